import { useMemo, useState } from 'react';
import { toast } from 'sonner';
import type { TO_COME } from '#contract/to-come.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { type Problem, problem as told } from '#contract/problems.ts';
import { merged } from '../kit/conflict.tsx';
import type { Fault } from '../kit/faults.tsx';
import { showDay } from '../kit/number-form.ts';
import { recordsApi } from '../records/endpoints.ts';
import { toComeApi } from '../to-come/endpoints.ts';
import { useInForce, withChanges } from '../to-come/use-in-force.ts';
import { problemOf } from '../api.ts';

const none = (): readonly Fault[] => [];
const fieldsWrong = (faults: readonly Fault[]): Problem => ({ ...told('fields_wrong'), faults: [...faults] });

/**
 * Keeps one record, at once or from a day to come on: what was typed stays when it is refused; where somebody else was
 * faster, both versions are at hand. `proposed`: what is to be changed of it, not kept yet;
 * `faultsIn`: what is wrong with it before anybody else is asked.
 */
export function useRecordForm<B extends object>(
  register: string,
  start: B,
  id: string | null,
  version: number,
  { proposed, faultsIn = none }: { proposed?: Partial<B> | undefined; faultsIn?: (body: B) => readonly Fault[] } = {},
) {
  const form = useNumberForm();
  const [tried, setTried] = useState(false);
  const [body, setBody] = useState<B>({ ...start, ...proposed });
  const [kept, setKept] = useState<B>(start);
  const [known, setKnown] = useState(version);
  const [keep, keeping] = recordsApi.useRecordMutation();
  const [plan, planning] = toComeApi.usePlanChangeMutation();
  const inForce = useInForce(register, id);
  const changed = JSON.stringify(body) !== JSON.stringify(kept);
  // somebody else kept a later version, and nothing was typed here: follow it
  if (version > known && !changed) {
    setBody(start);
    setKept(start);
    setKnown(version);
  }
  const error = keeping.error ?? planning.error;
  // once somebody tried to keep it, what is wrong is told as it is mended
  const own = useMemo(() => (tried ? faultsIn(body) : []), [tried, faultsIn, body]);
  const problem = own.length > 0 ? fieldsWrong(own) : error ? problemOf(error) : null;
  const theirs =
    problem?.code === 'changed_meanwhile' ? (problem.current as (B & { version: number }) | undefined) : undefined;
  const fault = (path: string): string | undefined => problem?.faults?.find((f) => f.path === path)?.message;
  const reset = () => {
    keeping.reset();
    planning.reset();
  };
  const begin = (from: B, upon: readonly string[]) => {
    setBody(from);
    setKept(from);
    inForce.begin(upon);
  };
  /** `what` null: the record is removed from the day on. */
  const planned = async (day: string, what: B | null): Promise<boolean> => {
    try {
      const { reason, upon } = inForce;
      await plan({
        register: register as (typeof TO_COME)[number],
        record: id!,
        version: known,
        day,
        reason,
        upon: [...upon],
        body: what as Record<string, unknown> | null,
      }).unwrap();
      toast.success(`Kept for ${showDay(day, form)}. Until then nothing changes.`);
      begin(start, []);
      inForce.set({ day: null, reason: '' });
      return true;
    } catch {
      return false;
    }
  };
  const save = async (): Promise<{ id: string; version: number } | null> => {
    reset();
    setTried(true);
    if (faultsIn(body).length > 0) return null;
    if (inForce.day !== null && id !== null) return (await planned(inForce.day, body)) ? { id, version: known } : null;
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
    set: (change: Partial<B>) => setBody((b) => ({ ...b, ...change })),
    save,
    saving: keeping.isLoading || planning.isLoading,
    problem,
    fault,
    theirs,
    faults: problem?.faults,
    changed,
    inForce: {
      ...inForce,
      /** The fields that were changed here since the form began. */
      touched: Object.keys(body).filter(
        (k) => JSON.stringify(body[k as keyof B]) !== JSON.stringify(kept[k as keyof B]),
      ),
      /** Begins the form anew with what stands once these changes hold. */
      beginWith: (changes: typeof inForce.waiting) =>
        begin(
          withChanges(start, changes),
          changes.map((c) => c.id),
        ),
      removeFrom: (day: string) => planned(day, null),
    },
    /** Goes on with mine and these fields of theirs: the next save expects their version. */
    goOn: (fromTheirs: readonly string[]) => {
      if (!theirs) return;
      setBody(merged(body, theirs, fromTheirs));
      setKnown(theirs.version);
      reset();
    },
  };
}

export type FormInForce = ReturnType<typeof useRecordForm<object>>['inForce'];
