import { type Db, inTransaction } from '#server/platform/database.ts';
import { planChange } from '#server/to-come/plan.ts';
import { toComeRegisters } from '#server/to-come/routes.ts';
import { atNoon, daysBefore } from './days.ts';

type Record = Readonly<{ id: string; version: number; name: string; uplift?: readonly object[] }>;

const PLANS = [
  {
    register: 'floors',
    name: 'Least margin on rope',
    inDays: 5,
    reason: 'Kelwick raises its freight',
    becomes: () => ({ value: '22' }),
  },
  {
    register: 'recipes',
    name: 'Staff, cost and a little',
    inDays: 40,
    reason: 'agreed with the staff for the new season',
    becomes: ({ uplift }: Record) => ({ uplift: uplift!.map((row) => ({ ...row, value: '15' })) }),
  },
] as const;

/** Rules that are decided and not in force yet: one begins within a week. */
export async function plannedChanges(
  db: Db,
  today: string,
  person: Readonly<{ [signIn: string]: number }>,
): Promise<void> {
  const by = { at: atNoon(daysBefore(today, 3)), person: person['marit']! };
  for (const { register: name, name: record, inDays, reason, becomes } of PLANS) {
    const register = toComeRegisters.find((r) => r.name === name)!;
    await inTransaction(db, async (tx) => {
      const { id, version, ...body } = ((await register.read(tx)) as unknown as Record[]).find(
        (r) => r.name === record,
      )!;
      const day = daysBefore(today, -inDays);
      const then = { ...body, ...becomes({ id, version, ...body }) };
      await planChange(tx, by, register, { record: id, version, day, reason, upon: [], body: then });
    });
  }
}
