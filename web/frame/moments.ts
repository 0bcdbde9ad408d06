import { useCallback } from 'react';
import { showMoment } from '../kit/number-form.ts';
import { useMe } from '../people/use-me.ts';
import { useNumberForm } from './preferences.ts';

/** Writes a moment as the reader writes days, in the workspace's time zone: so it falls on the day that figures count it to. */
export type Moment = (iso: string) => string;

export function useMoment(): Moment {
  const form = useNumberForm();
  const zone = useMe().me?.workspace.timeZone ?? 'UTC';
  return useCallback((iso) => showMoment(iso, form, zone), [form, zone]);
}
