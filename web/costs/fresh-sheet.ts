import { useDispatch } from 'react-redux';
import type { AppDispatch } from '../store.ts';
import { costsApi } from './endpoints.ts';

/**
 * Reads a sheet anew and waits for it: what was decided has given it another version, and the next decision must name that.
 * By itself it would be read anew only once all else that is being asked has been answered.
 */
export function useFreshSheet(id: string): () => Promise<unknown> {
  const dispatch = useDispatch<AppDispatch>();
  return () => dispatch(costsApi.endpoints.sheet.initiate(id, { forceRefetch: true, subscribe: false }));
}

/** What became of taking rows in: read anew where they are; where it is done in the background, only how far that has come. */
export function useAfterTaking(id: string): (later: boolean) => Promise<unknown> {
  const dispatch = useDispatch<AppDispatch>();
  const fresh = useFreshSheet(id);
  return (later) =>
    later ? dispatch(costsApi.endpoints.sheetIntake.initiate(id, { forceRefetch: true, subscribe: false })) : fresh();
}

export const TAKEN_LATER = 'It is being taken in. You can go on working; it counts once all of it is there.';

/** Told after costs were taken in, where prices follow by themselves. */
export const followWords = (worksheet: string | null): string =>
  worksheet === null ? '' : ` Prices follow by themselves: worksheet ${worksheet}.`;
