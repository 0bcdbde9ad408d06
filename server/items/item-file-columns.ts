import { PACK_HEADINGS, attributeHeading, packHeading } from '#contract/item-file.ts';
import { asTyped } from '#contract/harmless.ts';
import { isCurrencyCode } from '#core/numbers/currency.ts';
import { parseNumber } from '#core/numbers/parse-number.ts';
import { type AttributeTerms, readValue } from '#core/items/described.ts';
import type { ItemBody } from './item-body.ts';

/** What a file of items is read and written with. */
export interface ItemNames {
  readonly currency: string;
  readonly decimal: ',' | '.';
  /** By id: the path from the top, "rope and rigging / halyards". */
  readonly categories: ReadonlyMap<string, string>;
  readonly suppliers: ReadonlyMap<string, string>;
  readonly taxClasses: ReadonlySet<string>;
  readonly attributes: readonly AttributeTerms[];
}

/** An item that is being put together; every field of its body may still be set. */
export type Draft = { -readonly [K in keyof ItemBody]: ItemBody[K] };

/** A column of a file of items: how a cell is written and what it sets. `put` throws a `CellFault`. */
export interface ItemColumn {
  readonly title: string;
  readonly numeric?: true;
  readonly read: (item: ItemBody, names: ItemNames) => string;
  readonly put: (item: Draft, text: string, names: ItemNames) => void;
}

/** What is wrong with a cell, in words that follow on the heading. */
export class CellFault extends Error {}

const number = (text: string, { decimal }: ItemNames): string => {
  const found = parseNumber(text, { decimal, thousands: '' });
  if (!found.ok) throw new CellFault(`is no number with a decimal ${decimal === ',' ? 'comma' : 'point'}`);
  return found.value;
};
const numberOrNull = (text: string, names: ItemNames): string | null => (text === '' ? null : number(text, names));
const orNull = (text: string): string | null => (text === '' ? null : text);
const needed = (text: string): string => {
  if (text === '') throw new CellFault('must not be empty');
  return text;
};

const YES = ['yes', 'y', 'true', '1', 'x', 'ja', 'oui', 'sí', 'si', 'kyllä'];
const NO = ['no', 'n', 'false', '0', 'nein', 'nej', 'non', 'ei'];
function yesNo(text: string): boolean {
  const low = text.toLowerCase();
  if (YES.includes(low)) return true;
  if (NO.includes(low)) return false;
  throw new CellFault('is neither yes nor no');
}

function currency(text: string, names: ItemNames): string {
  const code = text === '' ? names.currency : text.toUpperCase();
  if (!isCurrencyCode(code)) throw new CellFault('is no currency; write it like EUR');
  return code;
}

/** An id by its name in a map of names; the last part of a path is enough where only one ends in it. */
function byName(names: ReadonlyMap<string, string>, text: string, what: string): string {
  const asked = text.toLowerCase().replace(/\s*\/\s*/g, ' / ');
  const all = [...names];
  const exact = all.filter(([, name]) => name.toLowerCase() === asked);
  const found = exact.length > 0 ? exact : all.filter(([, name]) => name.toLowerCase().endsWith(` / ${asked}`));
  if (found.length === 1) return found[0]![0];
  throw new CellFault(
    found.length === 0
      ? `is no ${what}`
      : `is more than one ${what}: write it with what it lies in, such as “${found[0]![1]}”`,
  );
}

type TextField = 'brand' | 'model' | 'supplierCode';
const text = (title: string, field: TextField): ItemColumn => ({
  title,
  read: (i) => i[field] ?? '',
  put: (i, t) => void (i[field] = orNull(t)),
});

const recommended = (title: string, field: 'rrp' | 'map'): ItemColumn[] => [
  {
    title,
    numeric: true,
    read: (i) => i[field]?.amount ?? '',
    put: (i, t, names) => {
      const amount = numberOrNull(t, names);
      i[field] = amount === null ? null : { currency: names.currency, taxIn: true, ...i[field], amount };
    },
  },
  {
    title: `${title} currency`,
    read: (i) => i[field]?.currency ?? '',
    put: (i, t, names) => {
      if (i[field]) i[field] = { ...i[field], currency: currency(t, names) };
      else if (t !== '') throw new CellFault(`stands there without a price under ${title}`);
    },
  },
  {
    title: `${title} with tax`,
    read: (i) => (i[field] ? (i[field].taxIn ? 'yes' : 'no') : ''),
    put: (i, t) => {
      if (i[field] && t !== '') i[field] = { ...i[field], taxIn: yesNo(t) };
      else if (t !== '') throw new CellFault(`stands there without a price under ${title}`);
    },
  },
];

const limit = (title: string, field: 'least' | 'most' | 'step'): ItemColumn => ({
  title,
  numeric: true,
  read: (i) => i.order?.[field] ?? '',
  put: (i, t, names) => {
    const order = { least: null, most: null, step: null, for: [], ...i.order, [field]: numberOrNull(t, names) };
    i.order = (order.least ?? order.most ?? order.step ?? order.for[0]) ? order : null;
  },
});

const FIRST: readonly ItemColumn[] = [
  // found by it, never changed by it
  { title: 'SKU', read: (i) => i.sku, put: () => undefined },
  { title: 'Name', read: (i) => i.name, put: (i, t) => void (i.name = needed(t)) },
  {
    title: 'Category',
    read: (i, names) => names.categories.get(i.category) ?? '',
    put: (i, t, names) => void (i.category = byName(names.categories, needed(t), 'category')),
  },
  text('Brand', 'brand'),
  text('Model', 'model'),
  {
    title: 'Supplier',
    read: (i, names) => (i.supplier ? (names.suppliers.get(i.supplier) ?? '') : ''),
    put: (i, t, names) => void (i.supplier = t === '' ? null : byName(names.suppliers, t, 'supplier')),
  },
  text('Supplier’s code', 'supplierCode'),
  { title: 'Unit', read: (i) => i.unit, put: (i, t) => void (i.unit = needed(t)) },
  {
    title: 'Weight, kg',
    numeric: true,
    read: (i) => i.weightKg ?? '',
    put: (i, t, names) => void (i.weightKg = numberOrNull(t, names)),
  },
  {
    title: 'Tax class',
    read: (i) => i.taxClass,
    put: (i, t, { taxClasses }) => {
      if (!taxClasses.has(needed(t))) throw new CellFault(`is no tax class: ${[...taxClasses].join(', ')}`);
      i.taxClass = t;
    },
  },
  ...recommended('RRP', 'rrp'),
  ...recommended('MAP', 'map'),
  limit('Order at least', 'least'),
  limit('Order at most', 'most'),
  limit('Order in steps of', 'step'),
  {
    title: 'Retired from',
    read: (i) => i.retiredFrom ?? '',
    put: (i, t) => {
      if (t !== '' && !/^\d{4}-\d{2}-\d{2}$/.test(t)) throw new CellFault('is no day; write it like 2026-03-09');
      i.retiredFrom = orNull(t);
    },
  },
];

type PackBody = ItemBody['packs'][number];
/** The n-th pack of an item, with one unit until more is said. */
export const newPack = (name: string, n: number): PackBody => ({
  id: `new ${n}`,
  name,
  units: '1',
  barcode: null,
  deposit: null,
  depositTaxClass: null,
  unitDeposit: null,
  unitDepositTaxClass: null,
});
const setPack = (i: Draft, n: number, more: Partial<PackBody>): void => {
  const pack = i.packs[n - 1];
  if (!pack) throw new CellFault(`stands there without a name under ${packHeading('Pack', n)}`);
  i.packs = i.packs.with(n - 1, { ...pack, ...more });
};

/** Of the n-th pack, or of each unit in it: an amount with its currency in one cell. */
const depositColumn = (
  n: number,
  heading: 'Deposit' | 'Unit deposit',
  field: 'deposit' | 'unitDeposit',
): ItemColumn => ({
  title: packHeading(heading, n),
  read: (i) => {
    const deposit = i.packs[n - 1]?.[field];
    return deposit ? `${deposit.amount} ${deposit.currency}` : '';
  },
  put: (i, t, names) => {
    if (t === '') return i.packs[n - 1] ? setPack(i, n, { [field]: null }) : undefined;
    const [, amount = t, code = ''] = /^(.*?)\s*([A-Za-z]{3})?$/.exec(t) ?? [];
    setPack(i, n, { [field]: { amount: number(amount, names), currency: currency(code, names) } });
  },
});

const depositTaxColumn = (
  n: number,
  heading: 'Deposit tax class' | 'Unit deposit tax class',
  field: 'depositTaxClass' | 'unitDepositTaxClass',
  of: 'deposit' | 'unitDeposit',
): ItemColumn => ({
  title: packHeading(heading, n),
  read: (i) => i.packs[n - 1]?.[field] ?? '',
  put: (i, t, { taxClasses }) => {
    if (t === '') return i.packs[n - 1] ? setPack(i, n, { [field]: null }) : undefined;
    if (!taxClasses.has(t)) throw new CellFault(`is no tax class: ${[...taxClasses].join(', ')}`);
    if (!i.packs[n - 1]?.[of]) throw new CellFault('stands there without a deposit before it');
    setPack(i, n, { [field]: t });
  },
});

/** The columns of the n-th pack, by its place; a pack is never taken away by an empty cell. */
const packColumns = (n: number): ItemColumn[] => [
  {
    title: packHeading('Pack', n),
    read: (i) => i.packs[n - 1]?.name ?? '',
    put: (i, t) => {
      const known = i.packs[n - 1];
      if (t === '' && known) throw new CellFault('must not be empty: a pack is taken away with the item open');
      if (t === '' || known?.name === t) return;
      if (known) i.packs = i.packs.with(n - 1, { ...known, name: t });
      else if (i.packs.length < n - 1) throw new CellFault(`leaves ${packHeading('Pack', n - 1)} empty`);
      else i.packs = [...i.packs, newPack(t, n)];
    },
  },
  {
    title: packHeading('Units', n),
    numeric: true,
    read: (i) => i.packs[n - 1]?.units ?? '',
    put: (i, t, names) => {
      if (t === '' && !i.packs[n - 1]) return;
      setPack(i, n, { units: number(needed(t), names) });
    },
  },
  {
    title: packHeading('Barcode', n),
    read: (i) => i.packs[n - 1]?.barcode ?? '',
    put: (i, t) => {
      if (t !== '' || i.packs[n - 1]) setPack(i, n, { barcode: orNull(t) });
    },
  },
  depositColumn(n, 'Deposit', 'deposit'),
  depositTaxColumn(n, 'Deposit tax class', 'depositTaxClass', 'deposit'),
  depositColumn(n, 'Unit deposit', 'unitDeposit'),
  depositTaxColumn(n, 'Unit deposit tax class', 'unitDepositTaxClass', 'unitDeposit'),
];

const attributeColumn = (terms: AttributeTerms): ItemColumn => ({
  title: attributeHeading(terms.name),
  ...(terms.kind === 'number' ? { numeric: true as const } : {}),
  read: (i) => i.attributes?.[terms.name] ?? '',
  put: (i, t, names) => {
    const rest = Object.fromEntries(Object.entries(i.attributes ?? {}).filter(([name]) => name !== terms.name));
    const value = t === '' ? null : terms.kind === 'number' ? number(t, names) : readValue(terms, t);
    if (t !== '' && value === null)
      throw new CellFault(`is none of its values: ${(terms.values ?? []).slice(0, 12).join(', ')}`);
    const next = value === null ? rest : { ...rest, [terms.name]: value };
    i.attributes = Object.keys(next).length > 0 ? next : null;
  },
});

/** Every column of a file of items with so many packs. */
export const itemFileColumns = (names: ItemNames, packs: number): readonly ItemColumn[] => [
  ...FIRST,
  ...Array.from({ length: packs }, (_, n) => packColumns(n + 1)).flat(),
  ...names.attributes.map(attributeColumn),
];

const bare = (heading: string): string => heading.toLowerCase().replace(/[^\p{L}\p{N}:]/gu, '');

const PACK_HEADING = new RegExp(`^(?:${PACK_HEADINGS.join('|')})\\s*(\\d{1,2})$`, 'i');

/** A column of a file with its place there. */
export interface PlacedColumn {
  readonly column: ItemColumn;
  readonly at: number;
}

/** The columns that the headings of a file mean, in the order in which they are to be set; the first of two counts. */
export function columnsByHeading(header: readonly string[], names: ItemNames): PlacedColumn[] {
  const packs = Math.max(0, ...header.map((h) => Number(PACK_HEADING.exec(h)?.[1] ?? 0)));
  const heads = header.map(bare);
  return itemFileColumns(names, packs).flatMap((column) => {
    const at = heads.indexOf(bare(column.title));
    return at < 0 ? [] : [{ column, at }];
  });
}

export const cellText = (cell: string): string => asTyped(cell).trim();
