import { configureStore } from '@reduxjs/toolkit';
import { api } from './api.ts';
import { keepPreferences, preferences } from './frame/preferences.ts';

export function makeStore() {
  const store = configureStore({
    reducer: { preferences: preferences.reducer, [api.reducerPath]: api.reducer },
    // answers of 100,000 rows are not walked through on every action
    middleware: (defaults) => defaults({ serializableCheck: false, immutableCheck: false }).concat(api.middleware),
  });
  keepPreferences(store.getState().preferences);
  store.subscribe(() => keepPreferences(store.getState().preferences));
  return store;
}

export type State = ReturnType<ReturnType<typeof makeStore>['getState']>;
export type AppDispatch = ReturnType<typeof makeStore>['dispatch'];
