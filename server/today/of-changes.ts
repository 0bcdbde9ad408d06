import { inArray } from 'drizzle-orm';
import type { Waiting } from '#contract/today.ts';
import { plusDays } from '#core/numbers/day.ts';
import type { Queries } from '../platform/database.ts';
import { changesToCome } from '../to-come/tables.ts';

const TO = '/changes-to-come';

/** Changes of rules that begin soon, and those that could not. */
export async function ofChangesToCome(
  db: Queries,
  day: string,
  add: (kind: Waiting['kind'], count: number, text: string, to: string) => void,
): Promise<void> {
  const rows = await db
    .select({ state: changesToCome.state, day: changesToCome.day })
    .from(changesToCome)
    .where(inArray(changesToCome.state, ['waiting', 'failed']));
  const until = plusDays(day, 7);
  const failed = rows.filter((r) => r.state === 'failed').length;
  const soon = rows.filter((r) => r.state === 'waiting' && r.day <= until).length;
  add(
    'to_come_failed',
    failed,
    `${failed === 1 ? 'A change' : `${failed} changes`} of rules could not be carried out on the day planned`,
    TO,
  );
  add(
    'to_come',
    soon,
    `${soon === 1 ? 'A change of rules begins' : `${soon} changes of rules begin`} within a week`,
    TO,
  );
}
