import { useState } from 'react';
import type { ToPost, WouldPost } from '#contract/lists.ts';
import { listsApi } from './endpoints.ts';

/** While it is of a moment before the last change it is asked for again, in milliseconds. */
const STALE_MS = 1_000;

/** What posting what a list shows would come to; undefined: it is not known yet, or must not be. */
export function useWouldPost(list: string, day: string | null, toPost: ToPost, may: boolean): WouldPost | undefined {
  const [stale, setStale] = useState(false);
  const { data } = listsApi.useToPostQuery(
    { list, day, ...toPost },
    { skip: !may, pollingInterval: stale ? STALE_MS : 0 },
  );
  if (data && data.stale !== stale) setStale(data.stale);
  return data;
}
