import { inTransaction } from '../platform/database.ts';
import { fromTheBeginning } from '../platform/history.ts';
import { randomBytes } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { audit } from '../ledger/audit.ts';
import { hashPassword } from '../people/password.ts';
import { people } from '../people/tables.ts';
import type { Workspace } from '#core/workspace/workspace.ts';
import { writeWorkspaceRows } from '../workspace/write-workspace.ts';
import type { Context } from '../platform/context.ts';
import { categories, workspaceSettings } from './tables.ts';

/** A workspace and its first administrator, where there is none yet: empty, or as a file has it. Returns the lines to print. */
export async function prepareWorkspace(
  context: Pick<Context, 'db' | 'now'>,
  dataFolder: string | null,
  from: Workspace | null = null,
): Promise<string[]> {
  const note = dataFolder ? `${dataFolder}/sign-ins.txt` : null;
  const created = await inTransaction(context.db, async (tx) => {
    await fromTheBeginning(tx);
    const [known] = await tx.select({ id: people.id }).from(people).limit(1);
    if (known) return null;
    const password = randomBytes(9).toString('base64url');
    const [person] = await tx
      .insert(people)
      .values({
        name: 'Administrator',
        signIn: 'administrator',
        passwordHash: await hashPassword(password),
        role: 'administrator',
        seesCost: true,
      })
      .returning({ id: people.id });
    const at = context.now();
    await tx.insert(workspaceSettings).values({
      name: 'Hard Ledger',
      currency: from?.currency ?? 'EUR',
      timeZone: 'Europe/Berlin',
      supplierChoice: from?.supplierChoice ?? 'preferred',
      more: from ? { listChoice: from.listChoice } : {},
    });
    if (from) await writeWorkspaceRows(tx, from, person!.id, at);
    else await tx.insert(categories).values({ name: 'all items' });
    await audit(tx, {
      at,
      personId: person!.id,
      action: from ? 'loaded a workspace file' : 'started an empty workspace',
      subject: 'settings',
      subjectId: '1',
      layers: ['catalogue', 'rules', 'posted'],
    });
    return password;
  });
  if (created) {
    const lines = ['First sign-in:  administrator', `Password:       ${created}`, 'Change it under Setup, People.'];
    if (note) writeFileSync(note, `${lines.join('\n')}\n`, { mode: 0o600 });
    return lines;
  }
  return note && existsSync(note) ? readFileSync(note, 'utf8').trimEnd().split('\n') : [];
}
