import { useMemo, useState } from 'react';
import { type ChangeToCome, TO_COME } from '#contract/to-come.ts';
import { useSignedIn } from '../people/use-me.ts';
import { toComeApi } from './endpoints.ts';

const NONE: readonly ChangeToCome[] = [];

/** From when on what stands in a form shall hold. */
export interface InForce {
  /** Null: this kind of record, or a new one, holds at once or by days of its own. */
  readonly day: string | null;
  readonly reason: string;
  readonly set: (change: { day?: string | null; reason?: string }) => void;
  /** The changes of the record that wait, the nearest first. */
  readonly waiting: readonly ChangeToCome[];
  /** Those that the form began with. */
  readonly upon: readonly string[];
  readonly begin: (upon: readonly string[]) => void;
  /** Whether a day can be said at all. */
  readonly offered: boolean;
}

/** From when on a record's form counts, and what waits for the record already. */
export function useInForce(register: string, id: string | null): InForce {
  const kind = TO_COME.find((name) => name === register);
  const may = useSignedIn().rights.has('edit_rules');
  const offered = kind !== undefined && id !== null;
  const { data } = toComeApi.useChangesToComeQuery(undefined, { skip: !offered });
  const waiting = useMemo(
    () => data?.filter((c) => c.register === register && c.record === id && c.trouble === null) ?? NONE,
    [data, register, id],
  );
  const [said, setSaid] = useState<{ day: string | null; reason: string }>({ day: null, reason: '' });
  const [upon, setUpon] = useState<readonly string[]>([]);
  return {
    ...said,
    set: (change) => setSaid((before) => ({ ...before, ...change })),
    waiting,
    // one that was dropped since is no part of what comes
    upon: upon.filter((of) => waiting.some((c) => c.id === of)),
    begin: setUpon,
    offered: offered && may,
  };
}

/** A record once these changes hold. */
export const withChanges = <B extends object>(body: B, changes: readonly ChangeToCome[]): B =>
  changes.reduce((b, c) => ({ ...b, ...c.change }), body);
