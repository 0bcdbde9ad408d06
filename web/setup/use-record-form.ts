import { useState } from 'react';
import { toast } from 'sonner';
import { api, problemOf } from '../api.ts';

/** Keeps one record: what was typed stays when it is refused; where somebody else was faster, both versions are at hand. */
export function useRecordForm<B extends object>(register: string, start: B, id: string | null, version: number) {
  const [body, setBody] = useState<B>(start);
  const [known, setKnown] = useState(version);
  const [keep, { isLoading, error, reset }] = api.useRecordMutation();
  const problem = error ? problemOf(error) : null;
  const theirs =
    problem?.code === 'changed_meanwhile' ? (problem.current as (B & { version: number }) | undefined) : undefined;
  const fault = (path: string): string | undefined => problem?.faults?.find((f) => f.path === path)?.message;
  const save = async (): Promise<{ id: string; version: number } | null> => {
    try {
      const done = await keep({ register, id, body: id === null ? body : { ...body, version: known } }).unwrap();
      toast.success('Kept.');
      setKnown(done.version);
      return { id: done.id, version: done.version };
    } catch {
      return null;
    }
  };
  return {
    body,
    setBody,
    set: (change: Partial<B>) => setBody((b) => ({ ...b, ...change })),
    save,
    saving: isLoading,
    problem,
    fault,
    theirs,
    changed: JSON.stringify(body) !== JSON.stringify(start),
    /** Go on with mine over theirs: the next save expects their version. */
    insist: () => {
      if (theirs) setKnown(theirs.version);
      reset();
    },
    /** Take theirs instead of mine. */
    giveWay: () => {
      if (!theirs) return;
      const { id: _, version: v, ...rest } = theirs as B & { id?: string; version: number };
      setBody(rest as unknown as B);
      setKnown(v);
      reset();
    },
  };
}
