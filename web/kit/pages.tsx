import type { MouseEvent } from 'react';
import { useSearchParams } from 'react-router';
import { useNumberForm } from '../frame/preferences.ts';
import { Button } from './controls.tsx';
import { show } from './number-form.ts';

/** What a view is asked for, in its address. A change begins with the first page; what is empty is left out. */
export function useAsked(): [URLSearchParams, (change: Readonly<Record<string, string | null>>) => void] {
  const [params, setParams] = useSearchParams();
  const set = (change: Readonly<Record<string, string | null>>) =>
    setParams(
      (now) => {
        const next = new URLSearchParams(now);
        for (const [name, value] of Object.entries({ at: null, ...change }))
          if (value) next.set(name, value);
          else next.delete(name);
        return next;
      },
      { replace: true },
    );
  return [params, set];
}

/** Where a page begins, of an address that anybody may have typed. */
export const pageAt = (params: URLSearchParams): number => Math.max(0, Math.floor(Number(params.get('at') ?? 0)) || 0);

/** Which rows of how many are shown, and the way to those before and after; says nothing where all are. */
export function Pages({
  at,
  rows,
  count,
  page,
  onAt,
}: {
  at: number;
  /** How many are shown. */
  rows: number;
  count: number;
  /** How many a page has. */
  page: number;
  onAt: (at: string) => void;
}) {
  const form = useNumberForm();
  if (count <= page) return null;
  // a page is read from its top
  const go = (to: number) => (e: MouseEvent) => {
    e.currentTarget.closest('.overflow-auto')?.scrollTo?.({ top: 0 });
    onAt(String(Math.max(0, to)));
  };
  return (
    <p className="mt-2 flex items-center gap-3 text-faint">
      {show(String(Math.min(at + 1, count)), form)} to {show(String(at + rows), form)} of {show(String(count), form)}
      {at > 0 ? <Button onClick={go(at - page)}>Back</Button> : null}
      {at + rows < count ? <Button onClick={go(at + page)}>On</Button> : null}
    </p>
  );
}
