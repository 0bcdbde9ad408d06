import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { promisify } from 'node:util';
import { deserialize, serialize } from 'node:v8';
import { constants, deflate, inflate } from 'node:zlib';
import { like, ne } from 'drizzle-orm';
import type { ItemTable } from '../items/item-table.ts';
import type { ListTable, PackTable } from '../lists/list-table.ts';
import type { Db } from '../platform/database.ts';
import { threadOf } from '../platform/place.ts';
import type { ListCounts } from './standing.ts';
import { keptStanding } from './tables.ts';

/** What all lists were counted to be. */
export interface Counted {
  readonly state: string;
  readonly at: string;
  readonly lists: ReadonlyMap<string, ListCounts>;
  readonly failing: number;
}

/** A table as it was worked out; of a list the packs stand apart, as all lists share them. */
export interface KeptTable {
  readonly state: string;
  readonly at: string;
  readonly list: { readonly of: ListTable; readonly packs: string } | null;
  readonly items: ItemTable | null;
}

export interface KeptStanding {
  readonly counted: Counted;
  /** By the state of the catalogue. */
  readonly packs: ReadonlyMap<string, PackTable>;
  readonly tables: ReadonlyMap<string, KeptTable>;
}

/** Keeps it from one start to the next. */
export interface StandingStore {
  /** Null: nothing is kept, or only what another release made. */
  read(): Promise<KeptStanding | null>;
  write(kept: KeptStanding): Promise<void>;
}

const [pack, unpack] = [promisify(deflate), promisify(inflate)];
const packed = (of: unknown) => pack(serialize(of), { level: constants.Z_BEST_SPEED }) as Promise<Buffer>;
const unpacked = async <T>(body: Buffer): Promise<T> => deserialize((await unpack(body)) as Buffer) as T;

/** Changes with the code that makes the tables: what another release made is not read. */
const release = (): string =>
  createHash('sha256')
    .update(readFileSync(fileURLToPath(threadOf('server/beside/state-thread').filename)))
    .update(process.version)
    .digest('hex')
    .slice(0, 16);

export function standingStore(db: Db): StandingStore {
  const own = `${release()}/`;
  return {
    read: async () => {
      const rows = await db
        .select()
        .from(keptStanding)
        .where(like(keptStanding.name, `${own}%`));
      const packs = new Map<string, PackTable>();
      const tables = new Map<string, KeptTable>();
      let counted: Counted | null = null;
      for (const { name, state, body } of rows) {
        const [, what, ...key] = name.split('/');
        if (what === 'packs') packs.set(state, await unpacked<PackTable>(body));
        else if (what === 'table') tables.set(key.join('/'), await unpacked<KeptTable>(body));
        else counted = await unpacked<Counted>(body);
      }
      return counted && { counted, packs, tables };
    },
    write: async ({ counted, packs, tables }) => {
      const at = new Date(counted.at);
      // each packed on its own, so that others have their turn
      const rows = [{ name: `${own}counted`, state: counted.state, at, body: await packed(counted) }];
      for (const [state, of] of packs) rows.push({ name: `${own}packs/${state}`, state, at, body: await packed(of) });
      for (const [key, of] of tables)
        rows.push({ name: `${own}table/${key}`, state: of.state, at, body: await packed(of) });
      await db.transaction(async (tx) => {
        await tx.delete(keptStanding).where(ne(keptStanding.name, ''));
        for (const row of rows) await tx.insert(keptStanding).values(row);
      });
    },
  };
}
