import { type Static, type TArray, type TSchema, type TUnsafe, Type } from '@sinclair/typebox';
import type { ListEntry } from '#core/lists/entries.ts';
import { type Rate, SUPPLIER_CHOICES, type Supplier } from '#core/costs/cost.ts';
import type { Category, Item } from '#core/items/item.ts';
import type { Customer, CustomerGroup } from '#core/lists/customer.ts';
import type { TaxRate } from '#core/regions/tax.ts';
import { BREAK_COUNTS, BREAK_KINDS, BREAK_WAYS, type BreakTable } from '#core/quotes/breaks.ts';
import type { FloorTerms } from '#core/quotes/floors.ts';
import type { RecipeTerms } from '#core/recipes/recipe.ts';
import type { LadderTerms } from '#core/rounding/ladder.ts';
import { LIST_CHOICES, type PriceList } from '#core/lists/price-list.ts';
import type { Workspace } from '#core/workspace/workspace.ts';
import {
  currency,
  day,
  decimal,
  id,
  maybe,
  name,
  notNegative,
  oneOf,
  optional,
  positive,
  record,
  rows,
  whole,
  yesNo,
} from './fields.ts';
import { landed, cost } from './catalogue-schema.ts';
import { declaredRows, fileFields, fileRows, plainRows } from './declared.ts';
import { ITEM_FIELDS } from '../records/item.ts';
import { MEMBERS, kindNamed } from '../records/kinds.ts';
import { LADDER_FIELDS } from '../records/ladder-fields.ts';
import { PLAIN } from '../records/plain.ts';
import { RECIPE_FIELDS } from '../records/recipe-fields.ts';
import { proof } from './questions-schema.ts';
import { ruleSet } from './rules-schema.ts';

export const FORMAT = 'hard-ledger workspace';
export const VERSION = 1;

const { list: _, ...ofEntry } = kindNamed('entries')!.fields;
/** An entry stands inside of its list. */
const entry = Type.Unsafe<ListEntry>(record({ id: id(), ...fileFields(ofEntry) }));

/** Has to be said, if only that there is none: where a band ends. */
const openEnd = () => Type.Unsafe<string | null>({ ...notNegative(), type: ['string', 'null'] });
/** What may be left out of a file, and what it then is. */
const orNothing = () => Type.Unsafe<string | null>({ ...id(), type: ['string', 'null'], default: null });
const orEmpty = ({ minItems: _, ...declared }: TSchema): TSchema =>
  Type.Optional({ ...declared, default: [], description: 'a list' } as TSchema, false);
/** May be left out, and is nothing else than that: not null. */
const orLeftOut = ({ anyOf }: TSchema): TSchema => optional((anyOf as TSchema[])[0]!);
const rank = () => Type.Integer({ default: 1, description: 'a whole number: the lower comes first' });
const groupsOf = () => rows(id(), 'a list of customer groups');
const inUse = () => yesNo('it is in use', true);

const list = plainRows<PriceList>(PLAIN.lists, {
  advertised: yesNo('its prices are advertised', false),
  active: inUse(),
  groups: groupsOf(),
  rank: rank(),
  recipe: orNothing(),
  entries: optional(Type.Array(entry, { description: 'a list of entries' })),
});

/** What the house keeps of an item and the core asks nothing of. */
const NOT_IN_FILE = { supplierCode: null, retiredFrom: null, 'packs.barcode': null };
const unitOrEach = () =>
  Type.String({ minLength: 1, default: 'each', description: 'what one unit is, such as "each" or "metre"' });

const posted = record({
  list: id(),
  item: id(),
  pack: id(),
  price: Type.Unsafe<string | null>({ ...notNegative(), type: ['string', 'null'] }),
  from: day(),
  posting: id(),
  entry: optional(whole('a whole number: the order of posting')),
  to: maybe(day()),
  handSet: maybe(record({ reason: name(), by: name(), lastDay: maybe(day()) })),
});

/** Members that are written in the file by hand: conditions and questions have shapes of their own. */
const BY_HAND = ['rules', 'proofs'] as const;
type DeclaredMember = Exclude<(typeof MEMBERS)[number], (typeof BY_HAND)[number]>;
type DeclaredMembers = { [M in DeclaredMember]: TArray<TUnsafe<Workspace[M][number]>> };

/** Every other kind of record as it is declared. */
const declaredMembers = (): DeclaredMembers =>
  Object.fromEntries(
    MEMBERS.filter((m) => !(BY_HAND as readonly string[]).includes(m)).map((m) => [m, declaredRows(m)]),
  ) as unknown as DeclaredMembers;

/** The workspace file: everything a person can set up, amounts as text, no field that is not named here. */
export const workspaceSchema = Type.Object(
  {
    $schema: optional(Type.String()),
    format: Type.Literal(FORMAT, { description: `"${FORMAT}"` }),
    version: Type.Literal(VERSION, { description: `${VERSION}: the version of the format that this program reads` }),
    currency: currency(),
    supplierChoice: oneOf(SUPPLIER_CHOICES, 'preferred'),
    listChoice: oneOf(LIST_CHOICES, 'first'),
    items: fileRows<Item>(
      ITEM_FIELDS,
      { ...NOT_IN_FILE, unit: unitOrEach, attributes: orLeftOut, order: orLeftOut },
      false,
    ),
    suppliers: plainRows<Supplier>(PLAIN.suppliers, { landed }),
    costs: rows(cost),
    rates: plainRows<Rate>(PLAIN['exchange-rates']),
    categories: plainRows<Category>(PLAIN.categories, { parent: orNothing() }),
    taxes: plainRows<TaxRate>(PLAIN['tax-rates']),
    ladders: fileRows<LadderTerms>(LADDER_FIELDS, { rungs: orEmpty, 'rungs.to': openEnd }),
    recipes: fileRows<RecipeTerms>(RECIPE_FIELDS, {
      ladder: orNothing,
      uplift: orEmpty,
      'uplift.scope.band.to': openEnd,
      'addOns.bands.to': openEnd,
      'addOns.scope': maybe,
      guards: orEmpty,
      'guards.id': () => optional(id()),
    }),
    lists: list,
    groups: plainRows<CustomerGroup>(PLAIN['customer-groups'], { rank: rank() }),
    customers: plainRows<Customer>(PLAIN.customers, { groups: groupsOf() }),
    posted: rows(posted),
    breaks: plainRows<BreakTable>(PLAIN.breaks, {
      way: oneOf(BREAK_WAYS, 'whole'),
      count: oneOf(BREAK_COUNTS, 'item'),
      rows: rows(
        record({
          from: positive(),
          kind: oneOf(BREAK_KINDS),
          value: notNegative(),
          zeroConfirmed: optional(yesNo('goods for nothing are meant')),
        }),
      ),
    }),
    floors: plainRows<FloorTerms>(PLAIN.floors, {
      value: Type.String({ ...decimal(), default: '0' }),
      active: inUse(),
    }),
    ...declaredMembers(),
    rules: rows(ruleSet),
    proofs: rows(proof),
  },
  { $id: 'hard-ledger-workspace', title: 'Hard Ledger workspace file, version 1', additionalProperties: false },
);

export type WorkspaceFile = Static<typeof workspaceSchema>;

/** Holds the schema to the core's own types: a field that one of them lacks does not compile. */
type Ordered<T> = T extends { entry?: unknown } ? Omit<T, 'entry'> & { entry: number } : T;
type FromFile = Omit<WorkspaceFile, '$schema' | 'format' | 'version' | 'costs' | 'posted'> & {
  costs: Ordered<WorkspaceFile['costs'][number]>[];
  posted: Ordered<WorkspaceFile['posted'][number]>[];
};
type SameFields<A, B> = [keyof A, keyof B] extends [keyof B, keyof A] ? true : never;
export const fromFile = (file: SameFields<FromFile, Workspace> extends true ? FromFile : never): Workspace => file;
