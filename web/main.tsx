import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { Provider } from 'react-redux';
import { RouterProvider, createBrowserRouter } from 'react-router';
import { App } from './app.tsx';
import { Broken } from './frame/broken.tsx';
import { makeStore } from './store.ts';
import './theme.css';

const router = createBrowserRouter([{ path: '*', element: <App />, errorElement: <Broken /> }]);

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <Provider store={makeStore()}>
      <RouterProvider router={router} />
    </Provider>
  </StrictMode>,
);
