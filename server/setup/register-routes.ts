import type { KeptRecord } from '#contract/api/answers.ts';
import { recordRoutes } from '#contract/api/records.ts';
import { audit, holdState } from '../ledger/audit.ts';
import type { Context } from '../platform/context.ts';
import type { Tx } from '../platform/database.ts';
import { inTransaction } from '../platform/database.ts';
import type { Route } from '../platform/http/route.ts';
import { route } from '../platform/http/route.ts';
import { expectVersion, pointedAs, recordId } from './one-record.ts';
import { dropLinks, refuseWhileLinked } from '../records/links.ts';
import { carryOutDue } from '../to-come/carry-out.ts';
import { makeAnew, refuseWhileToCome } from '../to-come/waiting.ts';
import type { SignedIn } from '../platform/http/signed-in.ts';
import type { AnyRegister } from './register.ts';

/** List, create, change (with a version check) and remove: one way for every register. */
export function registerRoutes(r: AnyRegister): Route[] {
  const declared = recordRoutes({ ...r, removable: r.remove !== undefined });
  const { remove } = r;
  return [
    route(declared.all, ({ context }) => r.read(context.db) as Promise<KeptRecord[]>),
    ...(declared.add
      ? [
          route(declared.add, ({ context, person, body }) =>
            inTransaction(context.db, (tx) => save(context, tx, r, person, null, body as object)),
          ),
        ]
      : []),
    route(declared.change, async ({ context, person, params, body }) => {
      await carryOutDue(context, [r]);
      return inTransaction(context.db, async (tx) => {
        const { version, ...rest } = body as { version: number };
        const id = recordId(r.title, params.id);
        await expectVersion(tx, r, id, version);
        return save(context, tx, r, person, id, rest);
      });
    }),
    ...(declared.remove && remove
      ? [
          route(declared.remove, ({ context, person, params, body }) =>
            inTransaction(context.db, async (tx) => {
              const id = recordId(r.title, params['id']);
              const before = await expectVersion(tx, r, id, body.version);
              await holdState(tx);
              await refuseWhileLinked(tx, r.title, pointedAs(r.name), id);
              await r.before?.({ tx, context, person }, id, null);
              await remove(tx, id);
              await refuseWhileToCome(tx, r, id);
              await dropLinks(tx, r.name, id);
              await audit(tx, {
                at: context.now(),
                personId: person.id,
                action: 'removed',
                subject: r.name,
                subjectId: String(id),
                before,
              });
              return { removed: true };
            }),
          ),
        ]
      : []),
  ];
}

async function save(
  context: Context,
  tx: Tx,
  r: AnyRegister,
  person: SignedIn,
  id: number | null,
  body: object,
): Promise<KeptRecord> {
  await r.check?.(tx, body, id);
  const before = id === null ? null : (await r.read(tx, id))[0]!;
  if (id !== null) await r.before?.({ tx, context, person }, id, body);
  const written = await r.write(tx, id, body, (before?.version ?? 0) + 1);
  if (id !== null) await makeAnew(tx, r, id);
  const after = (await r.read(tx, written))[0]!;
  await audit(tx, {
    at: context.now(),
    personId: person.id,
    action: id === null ? 'created' : 'changed',
    subject: r.name,
    subjectId: String(written),
    before,
    after,
  });
  return after as KeptRecord;
}
