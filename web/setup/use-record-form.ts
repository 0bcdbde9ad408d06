import { useState } from 'react';
import { toast } from 'sonner';
import { merged } from '../kit/conflict.tsx';
import { recordsApi } from '../records/endpoints.ts';
import { problemOf } from '../api.ts';

/** Keeps one record: what was typed stays when it is refused; where somebody else was faster, both versions are at hand. */
/** `proposed`: what is to be changed of it, not kept yet. */
export function useRecordForm<B extends object>(
  register: string,
  start: B,
  id: string | null,
  version: number,
  proposed?: Partial<B>,
) {
  const [body, setBody] = useState<B>({ ...start, ...proposed });
  const [kept, setKept] = useState<B>(start);
  const [known, setKnown] = useState(version);
  const [keep, { isLoading, error, reset }] = recordsApi.useRecordMutation();
  const changed = JSON.stringify(body) !== JSON.stringify(kept);
  // somebody else kept a later version, and nothing was typed here: follow it
  if (version > known && !changed) {
    setBody(start);
    setKept(start);
    setKnown(version);
  }
  const problem = error ? problemOf(error) : null;
  const theirs =
    problem?.code === 'changed_meanwhile' ? (problem.current as (B & { version: number }) | undefined) : undefined;
  const fault = (path: string): string | undefined => problem?.faults?.find((f) => f.path === path)?.message;
  const save = async (): Promise<{ id: string; version: number } | null> => {
    try {
      const done = await keep({ register, id, body: id === null ? body : { ...body, version: known } }).unwrap();
      toast.success('Kept.');
      setKnown(done.version);
      setKept(body);
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
    faults: problem?.faults,
    changed,
    /** Goes on with mine and these fields of theirs: the next save expects their version. */
    goOn: (fromTheirs: readonly string[]) => {
      if (!theirs) return;
      setBody(merged(body, theirs, fromTheirs));
      setKnown(theirs.version);
      reset();
    },
  };
}
