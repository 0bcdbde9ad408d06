import type { AnyObjectSchema } from 'yup';
import type { KeptRecord } from '#contract/api/answers.ts';
import { recordRoutes } from '#contract/api/records.ts';
import type { Right } from '#contract/people.ts';
import { audit, holdState } from '../ledger/audit.ts';
import type { Context } from '../platform/context.ts';
import { type Queries, type Tx, inTransaction } from '../platform/database.ts';
import { type Route, route } from '../platform/http/route.ts';
import type { SignedIn } from '../platform/http/session.ts';
import { expectVersion, pointedAs, recordId } from './one-record.ts';
import { dropLinks, refuseWhileLinked } from '../records/links.ts';
import { carryOutDue } from '../to-come/carry-out.ts';
import { makeAnew, refuseWhileToCome } from '../to-come/waiting.ts';

export interface Stored {
  id: string;
  version: number;
}

/** A kind of record that people keep: read, written whole, with a version and an audit entry. */
export interface Register<B extends object> {
  /** In the address: /api/NAME. */
  readonly name: string;
  /** In messages: "The recipe". */
  readonly title: string;
  readonly body: AnyObjectSchema;
  readonly readRight: Right;
  readonly changeRight: Right;
  read(db: Queries, only?: number): Promise<(B & Stored)[]>;
  /** There is one record and no other: none can be added. */
  readonly single?: boolean;
  write(tx: Tx, id: number | null, body: B, version: number): Promise<number>;
  remove?(tx: Tx, id: number): Promise<void>;
  /** Keeps what would be lost, before a record is written, or removed (`body` is null); in the same transaction. */
  before?(here: { tx: Tx; context: Context; person: SignedIn }, id: number, body: B | null): Promise<void>;
  /** The body as far as prices hang on it: what `before` keeps the way it is stays in it. */
  forMoves?(tx: Tx, id: number, body: B): Promise<B>;
  /** Refuses what no field alone shows; runs inside the transaction. */
  check?(tx: Tx, body: B, id: number | null): Promise<void>;
}

/** A register whatever its records hold. */
export type AnyRegister = Register<never>;
/** What its records hold is forgotten: whoever has it hands on what `body` let through, and nothing else. */
export const anyOf = <B extends object>(r: Register<B>): AnyRegister => r as unknown as AnyRegister;

/** List, create, change (with a version check) and remove: one way for every register. */
export function registerRoutes<B extends object>(r: Register<B>): Route[] {
  const declared = recordRoutes({ ...r, removable: r.remove !== undefined });
  const { remove } = r;
  return [
    route(declared.all, ({ context }) => r.read(context.db) as Promise<KeptRecord[]>),
    ...(declared.add
      ? [
          route(declared.add, ({ context, person, body }) =>
            inTransaction(context.db, (tx) => save(context, tx, r, person, null, body as B)),
          ),
        ]
      : []),
    route(declared.change, async ({ context, person, params, body }) => {
      await carryOutDue(context, [anyOf(r)]);
      return inTransaction(context.db, async (tx) => {
        const { version, ...rest } = body as B & { version: number };
        const id = recordId(r.title, params.id);
        await expectVersion(tx, r, id, version);
        return save(context, tx, r, person, id, rest as unknown as B);
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

async function save<B extends object>(
  context: Context,
  tx: Tx,
  r: Register<B>,
  person: SignedIn,
  id: number | null,
  body: B,
): Promise<KeptRecord> {
  await r.check?.(tx, body, id);
  const before = id === null ? null : (await r.read(tx, id))[0]!;
  if (id !== null) await r.before?.({ tx, context, person }, id, body);
  const written = await r.write(tx, id, body, (before?.version ?? 0) + 1);
  if (id !== null) await makeAnew(tx, anyOf(r), id);
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
  return after as unknown as KeptRecord;
}
