import { setNonce } from 'get-nonce';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { Provider } from 'react-redux';
import { RouterProvider, createBrowserRouter } from 'react-router';
import { App } from './app.tsx';
import { Broken } from './frame/broken.tsx';
import { makeStore } from './store.ts';
import './theme.css';

// dialogs hold the page still by a style element: it carries the page's own mark
setNonce(document.querySelector<HTMLMetaElement>('meta[name=style-nonce]')?.content ?? '');

const router = createBrowserRouter([{ path: '*', element: <App />, errorElement: <Broken /> }]);

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <Provider store={makeStore()}>
      <RouterProvider router={router} />
    </Provider>
  </StrictMode>,
);
