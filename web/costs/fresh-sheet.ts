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
