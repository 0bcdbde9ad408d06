import { type Pausable, toEnd } from '../pausable.ts';
import type { Lookup } from '../lookup/lookup.ts';
import type { PostedPrice } from '../lists/posted-price.ts';

/** A column that grows. */
class Growing {
  private values = new Uint32Array(1024);
  length = 0;

  push(value: number): void {
    if (this.length === this.values.length) this.widen(2 * this.length);
    this.values[this.length++] = value;
  }

  /** Takes over values of another column, each as `codes` has it; 0: not there yet, `code` makes it. */
  take(
    column: Uint32Array,
    [start, end]: readonly [number, number],
    codes: Uint32Array,
    code: (of: number) => number,
  ): void {
    const { length } = this;
    if (length + end - start > this.values.length) this.widen(2 * (length + end - start));
    const { values } = this;
    for (let row = start, to = length; row < end; row++, to++) {
      const of = column[row]!;
      values[to] = of === 0 ? 0 : codes[of] || (codes[of] = code(of));
    }
    this.length = length + end - start;
  }

  private widen(to: number): void {
    const wider = new Uint32Array(to);
    wider.set(this.values);
    this.values = wider;
  }

  /** In another order: `at` says where each value goes. */
  placed(at: Uint32Array): Uint32Array {
    const out = new Uint32Array(this.length);
    for (let i = 0; i < this.length; i++) out[at[i]!] = this.values[i]!;
    return out;
  }

  get(i: number): number {
    return this.values[i]!;
  }
}

/** Texts by number, each once, counted from 1; 0: none. */
class Texts {
  private readonly known = new Map<string, number>();
  readonly list: string[] = [''];

  code(text: string | null | undefined): number {
    if (text === null || text === undefined) return 0;
    const code = this.known.get(text);
    if (code !== undefined) return code;
    this.known.set(text, this.list.length);
    return this.list.push(text) - 1;
  }
}

const COLUMNS = ['list', 'pack', 'price', 'from', 'to', 'posting', 'typed'] as const;
type Column = (typeof COLUMNS)[number];
type Typed = NonNullable<PostedPrice['handSet']>;

/** Everything of a store but its ways. */
interface Kept {
  readonly items: ReadonlyMap<string, number>;
  readonly names: readonly string[];
  /** Where the postings of each item begin. */
  readonly starts: Uint32Array;
  readonly columns: Readonly<Record<Column, Uint32Array>>;
  readonly entry: Float64Array;
  readonly texts: readonly string[];
  readonly typed: readonly Typed[];
}

/**
 * Posted prices by item, as columns: of a million of them each takes some forty bytes, and becomes an object only while
 * somebody looks at it. What belongs to one item stands together, in the order in which it was put in.
 */
export class PostedStore implements Lookup<readonly PostedPrice[]>, Iterable<PostedPrice> {
  constructor(private readonly kept: Kept) {}

  private price(row: number, item: string): PostedPrice {
    const { columns, entry, texts, typed } = this.kept;
    const text = (column: Column) => texts[columns[column][row]!]!;
    const held = columns.typed[row]!;
    return {
      list: text('list'),
      item,
      pack: text('pack'),
      price: columns.price[row] === 0 ? null : text('price'),
      from: text('from'),
      posting: text('posting'),
      entry: entry[row]!,
      handSet: held === 0 ? null : typed[held - 1]!,
      ...(columns.to[row] === 0 ? {} : { to: text('to') }),
    };
  }

  private all(at: number): readonly PostedPrice[] {
    const { starts, names } = this.kept;
    const out: PostedPrice[] = [];
    for (let row = starts[at]!; row < starts[at + 1]!; row++) out.push(this.price(row, names[at]!));
    return out;
  }

  get(item: string): readonly PostedPrice[] | undefined {
    const at = this.kept.items.get(item);
    return at === undefined ? undefined : this.all(at);
  }

  has(item: string): boolean {
    return this.kept.items.has(item);
  }

  keys(): Iterable<string> {
    return this.kept.names;
  }

  *values(): Iterable<readonly PostedPrice[]> {
    for (let at = 0; at < this.kept.names.length; at++) yield this.all(at);
  }

  *[Symbol.iterator](): Iterator<PostedPrice> {
    for (const postings of this.values()) yield* postings;
  }

  /** What is posted for one price. */
  of(list: string, item: string, pack: string): readonly PostedPrice[] {
    const at = this.kept.items.get(item);
    if (at === undefined) return [];
    const { starts, columns, texts } = this.kept;
    const out: PostedPrice[] = [];
    for (let row = starts[at]!; row < starts[at + 1]!; row++)
      if (texts[columns.list[row]!] === list && texts[columns.pack[row]!] === pack) out.push(this.price(row, item));
    return out;
  }

  /** A store in which some items have other postings, or none. */
  with(changed: ReadonlyMap<string, readonly PostedPrice[] | undefined>): PostedStore {
    const out = new PostedStoreBuilder();
    const copy = out.copying(this.kept);
    for (const [at, name] of this.kept.names.entries())
      if (!changed.has(name)) copy(at);
      else for (const p of changed.get(name) ?? []) out.add(p);
    for (const [name, postings] of changed) if (!this.has(name)) for (const p of postings ?? []) out.add(p);
    return out.made();
  }
}

/** Gathers postings, in any order. */
export class PostedStoreBuilder {
  private readonly items = new Map<string, number>();
  private readonly names: string[] = [];
  private readonly item = new Growing();
  private readonly columns = Object.fromEntries(COLUMNS.map((c) => [c, new Growing()])) as Record<Column, Growing>;
  private readonly entry: number[] = [];
  private readonly texts = new Texts();
  private readonly typed: Typed[] = [];

  private placeOf(item: string): number {
    const known = this.items.get(item);
    if (known !== undefined) return known;
    const at = this.names.push(item) - 1;
    this.items.set(item, at);
    return at;
  }

  /** Takes over what is posted for one item of a store, by its place: numbers for numbers, no price becomes an object. */
  copying({ names, starts, columns: of, entry, texts, typed }: Kept): (at: number) => void {
    const coded = (['list', 'pack', 'price', 'from', 'to', 'posting'] as const).map(
      (c) => [of[c], this.columns[c]] as const,
    );
    // only the texts of prices that are taken over come along: by their number in the store they come from
    const codes = new Uint32Array(texts.length);
    const code = (known: number) => this.texts.code(texts[known]);
    return (at) => {
      const item = this.placeOf(names[at]!);
      const rows = [starts[at]!, starts[at + 1]!] as const;
      for (const [from, to] of coded) to.take(from, rows, codes, code);
      for (let row = rows[0]; row < rows[1]; row++) {
        const held = of.typed[row]!;
        this.item.push(item);
        this.columns.typed.push(held === 0 ? 0 : this.typed.push(typed[held - 1]!));
        this.entry.push(entry[row]!);
      }
    };
  }

  add(p: PostedPrice): void {
    this.item.push(this.placeOf(p.item));
    const { columns, texts } = this;
    columns.list.push(texts.code(p.list));
    columns.pack.push(texts.code(p.pack));
    columns.price.push(texts.code(p.price));
    columns.from.push(texts.code(p.from));
    columns.to.push(texts.code(p.to));
    columns.posting.push(texts.code(p.posting));
    columns.typed.push(p.handSet ? this.typed.push(p.handSet) : 0);
    this.entry.push(p.entry);
  }

  made(): PostedStore {
    return toEnd(this.making());
  }

  /** The same of a million postings, to be paused. */
  *making(): Pausable<PostedStore> {
    const rows = this.item.length;
    const starts = new Uint32Array(this.names.length + 1);
    for (let i = 0; i < rows; i++) starts[this.item.get(i) + 1]!++;
    for (let i = 1; i < starts.length; i++) starts[i]! += starts[i - 1]!;
    yield;
    const next = starts.slice();
    const places = new Uint32Array(rows);
    for (let i = 0; i < rows; i++) places[i] = next[this.item.get(i)]!++;
    yield;
    const entry = new Float64Array(rows);
    for (let i = 0; i < rows; i++) entry[places[i]!] = this.entry[i]!;
    const columns = {} as Record<Column, Uint32Array>;
    for (const c of COLUMNS) {
      yield;
      columns[c] = this.columns[c].placed(places);
    }
    return new PostedStore({
      ...{ items: this.items, names: this.names, starts, columns, entry },
      texts: this.texts.list,
      typed: this.typed,
    });
  }
}

/** Every posting of a look-up by item, made while it is asked for: a workspace that takes it over shares the look-up. */
export class PostedRows implements Iterable<PostedPrice> {
  constructor(readonly by: Lookup<readonly PostedPrice[]>) {}

  *[Symbol.iterator](): Iterator<PostedPrice> {
    for (const postings of this.by.values()) yield* postings;
  }
}
