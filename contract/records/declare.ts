import type { Tie } from '#core/items/scope.ts';
import type { Right } from '../people.ts';

/** Records that others can point to, by the member of a workspace that holds them. */
export const POINTED_TO = [
  'items',
  'categories',
  'suppliers',
  'groups',
  'customers',
  'lists',
  'ladders',
  'recipes',
  'regions',
  'lockstep',
  'pools',
  'charges',
] as const;
export type PointedTo = (typeof POINTED_TO)[number];

/** Texts that are best chosen from those already in use. */
export type Suggested = 'packs' | 'brands' | 'models' | 'channels' | 'taxClasses';

interface Common {
  readonly title: string;
  readonly hint?: string;
  /** May be left empty, always or in some rows. */
  readonly optional?: true | ((row: Readonly<Record<string, unknown>>) => boolean);
  /** Left out of the table, only in the form. */
  readonly formOnly?: true;
  /** Not asked of a new record. */
  readonly laterOnly?: true;
  /** Asked for, and kept, only where it says something: seen against the record or row it stands in. */
  readonly when?: (row: Readonly<Record<string, unknown>>) => boolean;
}

/** One field of a record: what it is, its unit and bounds, what it points to. Schema, form, table and references follow from it. */
export type Field = Common &
  (
    | {
        readonly type: 'text';
        readonly most?: number;
        readonly suggest?: Suggested;
        /** 8, 12, 13 or 14 digits, the last of which checks the others. */
        readonly barcode?: true;
        /** Capital letters are not told from small ones. */
        readonly lower?: true;
      }
    /** A password: written, never read. */
    | { readonly type: 'secret' }
    | { readonly type: 'texts'; readonly suggest?: Suggested }
    /** Several exact decimals as text, none below 0. */
    | { readonly type: 'decimals'; readonly one: string; readonly least?: number }
    /** An exact decimal as text. `unit`: "%", "kg", "per pack, in the list’s currency". */
    | { readonly type: 'decimal'; readonly sign?: 'not_negative' | 'positive'; readonly unit?: string }
    | { readonly type: 'whole'; readonly least?: number; readonly most?: number }
    /** `preset`: what it is where nothing was said; `needed`: it has to be said. */
    | { readonly type: 'yes'; readonly preset?: boolean; readonly needed?: true }
    | { readonly type: 'day' }
    | { readonly type: 'currency' }
    | { readonly type: 'countries' }
    | { readonly type: 'country' }
    /** `preset`: what it is where nothing was said. */
    | { readonly type: 'choice'; readonly options: Readonly<Record<string, string>>; readonly preset?: string }
    | { readonly type: 'one'; readonly to: PointedTo }
    /** `none`: what it means that none is named. */
    | { readonly type: 'many'; readonly to: PointedTo; readonly none?: string }
    /** An amount with its currency. */
    | { readonly type: 'amount' }
    | { readonly type: 'attributes' }
    /** What a rule is tied to; empty: everything. `band`: and from which basis to which. */
    | { readonly type: 'scope'; readonly ties?: readonly Tie[]; readonly band?: Fields }
    | { readonly type: 'scopes'; readonly one: string }
    | { readonly type: 'condition' }
    /** Made elsewhere in the application: kept as it was sent, shown in words, never typed. */
    | { readonly type: 'kept'; readonly list?: true }
    | { readonly type: 'part'; readonly fields: Fields }
    /** Rows in their order; with `numbered` each has an id of its own. */
    | {
        readonly type: 'rows';
        readonly one: string;
        readonly fields: Fields;
        readonly least?: number;
        readonly most?: number;
        /** Their places say nothing: they are put in order by what stands in them. */
        readonly unordered?: true;
        readonly numbered?: true;
        /** A row in a few words; `number`: a figure in the reader's form. */
        readonly words?: (row: Readonly<Record<string, unknown>>, number: (text: string) => string) => string;
      }
  );
export type Fields = Readonly<Record<string, Field>>;

/** A field for every member of a type of the core, but its id and version: one that is missing does not compile. */
export type FieldsOf<T> = { readonly [K in keyof T as Exclude<K, 'id' | 'version'>]-?: Field };

/** A kind of record that people keep. */
export interface RecordKind {
  /** In the address and in the record of changes. */
  readonly name: string;
  readonly title: string;
  readonly one: string;
  readonly about: string;
  readonly readRight: Right;
  readonly changeRight: Right;
  readonly fields: Fields;
}

/** Holds the fields to a type of the core, and forgets it. */
export function kind<T>(k: Omit<RecordKind, 'fields'> & { readonly fields: FieldsOf<T> }): RecordKind {
  return k as RecordKind;
}

/** Every tie a rule may have, in the order in which people think of them. */
export const TIES: readonly Tie[] = [
  'item',
  'category',
  'brand',
  'model',
  'attributes',
  'supplier',
  'lockstep',
  'pack',
  'channel',
];

export const TIE_FIELDS: Readonly<Record<Tie, Field>> = {
  item: { type: 'one', to: 'items', title: 'item', optional: true },
  category: { type: 'one', to: 'categories', title: 'category', optional: true },
  brand: { type: 'text', suggest: 'brands', title: 'brand', optional: true },
  model: { type: 'text', suggest: 'models', title: 'model', optional: true },
  attributes: { type: 'attributes', title: 'attributes', optional: true },
  supplier: { type: 'one', to: 'suppliers', title: 'supplier', optional: true },
  lockstep: { type: 'one', to: 'lockstep', title: 'lockstep group', optional: true },
  pack: { type: 'text', suggest: 'packs', title: 'pack', optional: true },
  channel: { type: 'text', suggest: 'channels', title: 'channel', optional: true },
};

/** What a new row or record begins with. */
export function startOf(fields: Fields): Record<string, unknown> {
  return Object.fromEntries(Object.entries(fields).map(([name, f]) => [name, emptyOf(f)]));
}

function emptyOf(f: Field): unknown {
  switch (f.type) {
    case 'yes':
      return f.preset ?? false;
    case 'texts':
    case 'decimals':
    case 'countries':
    case 'many':
    case 'scopes':
      return [];
    case 'rows':
      return Array.from({ length: f.least ?? 0 }, (_, i) => ({
        ...(f.numbered ? { id: String(i + 1) } : {}),
        ...startOf(f.fields),
      }));
    case 'scope':
      return {};
    case 'choice':
      return f.optional ? null : Object.keys(f.options)[0]!;
    case 'whole':
      return f.optional ? null : (f.least ?? 1);
    case 'part':
      return f.optional ? null : startOf(f.fields);
    case 'text':
    case 'secret':
    case 'decimal':
    case 'day':
    case 'currency':
      return f.optional ? null : '';
    default:
      return null;
  }
}
