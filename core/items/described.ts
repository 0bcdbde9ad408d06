import { Dec } from '../numbers/decimal.ts';
import type { Item } from './item.ts';

export const ATTRIBUTE_KINDS = ['choice', 'number', 'text'] as const;

/** What items are described by: declared once, then chosen. */
export interface AttributeTerms {
  readonly id: string;
  readonly version: number;
  readonly name: string;
  readonly kind: (typeof ATTRIBUTE_KINDS)[number];
  /** What a number is given in, such as mm; not written into the values. */
  readonly unit?: string | null;
  /** What may be chosen, of a choice; in the order in which it is offered. */
  readonly values?: readonly string[];
}

/** A brand, or a tax class: known by its name alone. */
export interface Named {
  readonly id: string;
  readonly version: number;
  readonly name: string;
}

/** What items of a workspace are described by. */
export interface Described {
  readonly attributes: readonly AttributeTerms[];
  readonly brands: readonly Named[];
  readonly taxClasses: readonly Named[];
}

/** Equal for texts that differ only in case, space, the unit or the way a number is written. */
export function sameness(text: string, unit: string | null | undefined): string {
  const close = text.toLowerCase().replace(/\s+/g, '');
  const mark = (unit ?? '').toLowerCase().replace(/\s+/g, '');
  const bare = mark !== '' && close.endsWith(mark) ? close.slice(0, -mark.length) : close;
  const number = bare.replace(/^(\d+),(\d+)$/, '$1.$2');
  return /^-?\d+(\.\d+)?$/.test(number) ? new Dec(number).toFixed() : bare;
}

/** A value as the declaration would have it: a choice as it is offered, a number bare; null where it is neither. */
export function readValue(terms: AttributeTerms, text: string): string | null {
  const same = sameness(text, terms.unit);
  if (terms.kind === 'number') return /^-?\d+(\.\d+)?$/.test(same) ? same : null;
  if (terms.kind === 'choice') return (terms.values ?? []).find((v) => sameness(v, terms.unit) === same) ?? null;
  return text.trim() === '' ? null : text.trim();
}

export interface DescriptionFault {
  /** `brand`, `taxClass`, `attributes.NAME`. */
  readonly at: string;
  readonly value: string;
  /** What is declared and close to it. */
  readonly near: string | null;
  readonly why: 'name_not_declared' | 'value_not_declared' | 'not_a_number';
}

/** Where an item says what nobody declared. Where nothing of a kind is declared, everything of it goes. */
export function descriptionFaults(
  { attributes, brands, taxClasses }: Described,
  item: Pick<Item, 'brand' | 'taxClass' | 'attributes'>,
): DescriptionFault[] {
  const out: DescriptionFault[] = [];
  const named = (at: 'brand' | 'taxClass', value: string | null | undefined, known: readonly Named[]) => {
    if (!value || known.length === 0 || known.some((k) => k.name === value)) return;
    out.push({
      at,
      value,
      near: nearest(
        value,
        known.map((k) => k.name),
      ),
      why: 'value_not_declared',
    });
  };
  named('brand', item.brand, brands);
  named('taxClass', item.taxClass, taxClasses);
  if (attributes.length === 0) return out;
  const byName = new Map(attributes.map((a) => [a.name, a]));
  for (const [name, value] of Object.entries(item.attributes ?? {})) {
    const at = `attributes.${name}`;
    const terms = byName.get(name);
    if (!terms) {
      out.push({ at, value: name, near: nearest(name, [...byName.keys()]), why: 'name_not_declared' });
      continue;
    }
    const read = readValue(terms, value);
    // a number may be written with more places than it needs
    if (read === value || (terms.kind === 'number' && /^-?\d+(\.\d+)?$/.test(value))) continue;
    const why = terms.kind === 'number' ? 'not_a_number' : 'value_not_declared';
    out.push({ at, value, near: read ?? nearest(value, terms.values ?? []), why });
  }
  return out;
}

/** One that begins alike; a letter was missed. */
function nearest(text: string, known: readonly string[]): string | null {
  const same = sameness(text, null);
  return (
    known.find((k) => sameness(k, null) === same) ??
    known.find((k) => sameness(k, null).slice(0, 3) === same.slice(0, 3)) ??
    null
  );
}

export interface Alike {
  /** `brand`, or the name of an attribute. */
  readonly of: string;
  /** The ways in which one value is written, with how many items write it so; the most usual first. */
  readonly ways: readonly Way<string>[];
}

/** One way in which a value is written, and who writes it so. */
export interface Way<T> {
  readonly value: string;
  readonly items: readonly T[];
}

/** Values with those who say them, those that are meant as one together; of each the most usual way first. */
export function inWays<T>(
  said: Iterable<readonly [value: string, by: T]>,
  unit: string | null | undefined,
): Way<T>[][] {
  // a catalogue has few values, each of many items
  const ways = new Map<string, { value: string; items: T[] }>();
  const same = new Map<string, { value: string; items: T[] }[]>();
  for (const [value, by] of said) {
    const known = ways.get(value);
    if (known) {
      known.items.push(by);
      continue;
    }
    const way = { value, items: [by] };
    ways.set(value, way);
    const key = sameness(value, unit);
    const others = same.get(key);
    if (others) others.push(way);
    else same.set(key, [way]);
  }
  for (const group of same.values())
    group.sort((a, b) => b.items.length - a.items.length || (a.value < b.value ? -1 : 1));
  return [...same.values()];
}

/** Values that differ only in case, space or unit: they are meant as one, and every rule tied to one misses the others. */
export function alikeValues({
  items,
  attributes,
}: Pick<Described, 'attributes'> & { readonly items: readonly Item[] }): Alike[] {
  const units = new Map(attributes.map((a) => [a.name, a.unit]));
  const said = new Map<string, [string, string][]>();
  const note = (of: string, value: string, item: string) => {
    const known = said.get(of);
    if (known) known.push([value, item]);
    else said.set(of, [[value, item]]);
  };
  for (const item of items) {
    if (item.brand) note('brand', item.brand, item.id);
    for (const name in item.attributes) note(name, item.attributes[name]!, item.id);
  }
  return [...said].flatMap(([of, values]) =>
    inWays(values, units.get(of))
      .filter((ways) => ways.length > 1)
      .map((ways) => ({ of, ways })),
  );
}
