import { configureStore } from '@reduxjs/toolkit';
import { api } from './api.ts';
import { keepPreferences, preferences } from './frame/preferences.ts';

export function makeStore() {
  const store = configureStore({
    reducer: { preferences: preferences.reducer, [api.reducerPath]: api.reducer },
    // answers of 100,000 rows are not walked through on every action
    middleware: (defaults) => defaults({ serializableCheck: false, immutableCheck: false }).concat(api.middleware),
    // an answer is drawn in a task of its own: laid out and painted in the next frame, neither holds the page up for long
    enhancers: (defaults) => defaults({ autoBatch: { type: 'tick' } }),
  });
  keepPreferences(store.getState().preferences);
  let kept = store.getState().preferences;
  store.subscribe(() => {
    const now = store.getState().preferences;
    if (now !== kept) keepPreferences((kept = now));
  });
  return store;
}

export type State = ReturnType<ReturnType<typeof makeStore>['getState']>;
export type AppDispatch = ReturnType<typeof makeStore>['dispatch'];
