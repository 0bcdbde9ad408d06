import type { AnyObjectSchema } from 'yup';
import type { Right } from '#contract/people.ts';
import type { Context } from '../platform/context.ts';
import type { Queries, Tx } from '../platform/database.ts';
import type { SignedIn } from '../platform/http/signed-in.ts';
import type { Stored } from './stored.ts';

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
  /** Changed only by somebody who is signed in, never with an access key. */
  readonly inPerson?: boolean;
  write(tx: Tx, id: number | null, body: B, version: number): Promise<number>;
  remove?(tx: Tx, id: number): Promise<void>;
  /** Keeps what would be lost, before a record is written, or removed (`body` is null); in the same transaction. */
  before?(here: { tx: Tx; context: Context; person: SignedIn }, id: number, body: B | null): Promise<void>;
  /** The body as far as prices hang on it: what `before` keeps the way it is stays in it. */
  forMoves?(tx: Tx, id: number, body: B): Promise<B>;
  /** Refuses what no field alone shows; runs inside the transaction. */
  check?(tx: Tx, body: B, id: number | null): Promise<void>;
}

/** A register whatever its records hold: whoever has it hands on what `body` let through, and nothing else. */
export type AnyRegister = Register<object>;
