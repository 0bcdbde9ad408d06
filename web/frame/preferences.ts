import { type PayloadAction, createSlice } from '@reduxjs/toolkit';
import { useSelector } from 'react-redux';
import { type NumberForm, formOf } from '../kit/number-form.ts';

export interface Preferences {
  theme: 'light' | 'dark';
  form: NumberForm;
}

const KEY = 'hard-ledger';

function initial(): Preferences {
  const kept = ((): Partial<Preferences> => {
    try {
      return JSON.parse(localStorage.getItem(KEY) ?? '{}') as Partial<Preferences>;
    } catch {
      return {};
    }
  })();
  const dark = typeof matchMedia === 'function' && matchMedia('(prefers-color-scheme: dark)').matches;
  return { theme: kept.theme ?? (dark ? 'dark' : 'light'), form: kept.form ?? formOf(navigator.language) };
}

/** What belongs to this reader on this machine: look and number form. */
export const preferences = createSlice({
  name: 'preferences',
  initialState: initial,
  reducers: {
    themeChosen: (state, action: PayloadAction<Preferences['theme']>) => ({ ...state, theme: action.payload }),
    formChosen: (state, action: PayloadAction<NumberForm>) => ({ ...state, form: action.payload }),
  },
});

export function keepPreferences(p: Preferences): void {
  document.documentElement.dataset['theme'] = p.theme;
  localStorage.setItem(KEY, JSON.stringify(p));
}

export function useNumberForm(): NumberForm {
  return useSelector((s: { preferences: Preferences }) => s.preferences.form);
}
