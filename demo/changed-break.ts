import { audit } from '#server/ledger/audit.ts';
import { type Db, inTransaction } from '#server/platform/database.ts';
import { registers } from '#server/setup/registers.ts';
import { atNoon, daysBefore } from './days.ts';

interface Breaks {
  id: string;
  version: number;
  name: string;
  rows: { from: string; kind: string; value: string }[];
}

/** A break that was less until two months ago: days before that show it as it was. */
export async function changedBreak(db: Db, today: string, person: Readonly<Record<string, number>>): Promise<void> {
  const register = registers.find((r) => r.name === 'breaks')!;
  await inTransaction(db, async (tx) => {
    const all = (await register.read(tx)) as unknown as Breaks[];
    const before = all.find((b) => b.name === 'Line by the length')!;
    const { id, version, ...body } = before;
    const rows = body.rows.map((r) => (r.from === '50' ? { ...r, value: '6' } : r));
    await register.write(tx, Number(id), { ...body, rows } as never, version + 1);
    const [after] = await register.read(tx, Number(id));
    await audit(tx, {
      at: atNoon(daysBefore(today, 60)),
      personId: person['marit']!,
      action: 'changed',
      subject: 'breaks',
      subjectId: id,
      before,
      after,
    });
  });
}
