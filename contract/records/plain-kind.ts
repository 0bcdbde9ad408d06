import type { Workspace } from '#core/workspace/workspace.ts';
import type { Field, Fields, RecordKind } from './declare.ts';

/**
 * A kind of record that has a table of its own: a field of the name of a column stands in it, what has none in `more`.
 * `T`: the core's type, of which each member is a field.
 */
export interface PlainKind<T = object> extends RecordKind {
  readonly fields: { readonly [K in keyof T as Exclude<K, 'id' | 'version'>]-?: Field } & Fields;
  readonly removable: boolean;
  /** Where a workspace holds them; absent: no price is made from them. */
  readonly member?: Exclude<keyof Workspace, 'posted'>;
  /** Fields of which the core knows nothing. */
  readonly beside?: readonly string[];
  /** Only while it says that it is active is a record in a workspace. */
  readonly whileActive?: true;
  /** The core's records have no version. */
  readonly unversioned?: true;
  /** They have neither a version nor an id. */
  readonly unnumbered?: true;
  /** Only one record, never a new one. */
  readonly single?: true;
  /** Changed only by somebody who is signed in, never with an access key. */
  readonly inPerson?: true;
  /** The field, a day, by which the records are sorted, the latest first. */
  readonly latestFirst?: string;
  /** What a new record begins with, where that is not nothing. */
  readonly start?: Readonly<Record<string, unknown>>;
}

export const RULES = { readRight: 'see_cost', changeRight: 'edit_rules' } as const;
export const OPEN = { readRight: 'read', changeRight: 'edit_rules' } as const;
export const NAME = { type: 'text', title: 'Name', most: 120 } as const;
export const RANK = { type: 'whole', title: 'Rank' } as const;
export const optional = { optional: true } as const;
