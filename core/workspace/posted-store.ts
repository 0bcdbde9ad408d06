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
  /** How many texts there were when the store was put together; none: as many as there are. */
  readonly once?: number;
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
  *with(changed: ReadonlyMap<string, readonly PostedPrice[] | undefined>, mostLeft = MOST_LEFT): Pausable<PostedStore> {
    const more = new PostedStoreBuilder();
    for (const postings of changed.values()) for (const p of postings ?? []) more.add(p);
    const { items, names } = this.kept;
    const goes = new Uint8Array(names.length);
    for (const name of changed.keys()) {
      const at = items.get(name);
      if (at !== undefined) goes[at] = 1;
    }
    return yield* this.merged(yield* more.making(), (at) => goes[at] === 0, mostLeft);
  }

  /** A store in which some lists have other postings: those of another store, which has none of other lists. */
  *withLists(lists: ReadonlySet<string>, now: PostedStore, mostLeft = MOST_LEFT): Pausable<PostedStore> {
    const { texts, columns } = this.kept;
    const goes = Uint8Array.from(texts, (text) => (lists.has(text) ? 1 : 0));
    return yield* this.merged(now, (_, row) => goes[columns.list[row]!] === 0, mostLeft);
  }

  /**
   * Rows that stay, and all of another store, item by item. Texts that nothing names any more are left where they are; once they
   * may be more than the rest, only those that are named come along.
   */
  private *merged(
    { kept: added }: PostedStore,
    stays: (at: number, row: number) => boolean,
    mostLeft: number,
  ): Pausable<PostedStore> {
    const { kept } = this;
    const source = new Int32Array(kept.entry.length + added.entry.length);
    const names: string[] = [];
    const starts: number[] = [0];
    let rows = 0;
    const end = (name: string) => {
      if (rows > starts.at(-1)!) starts[names.push(name)] = rows;
    };
    const addedOf = (place: number | undefined) => {
      if (place === undefined) return;
      for (let row = added.starts[place]!; row < added.starts[place + 1]!; row++) source[rows++] = -row - 1;
    };
    for (let at = 0; at < kept.names.length; at++) {
      if (at % AT_A_TIME === 0) yield;
      for (let row = kept.starts[at]!; row < kept.starts[at + 1]!; row++) if (stays(at, row)) source[rows++] = row;
      addedOf(added.items.get(kept.names[at]!));
      end(kept.names[at]!);
    }
    const fresh = added.names.filter((name) => !kept.items.has(name));
    for (const name of fresh) {
      addedOf(added.items.get(name));
      end(name);
    }
    yield;
    const columns = {} as Record<Column, Uint32Array>;
    for (const column of COLUMNS) {
      yield;
      const out = (columns[column] = new Uint32Array(rows));
      const [own, other] = [kept.columns[column], added.columns[column]];
      const beyond = column === 'typed' ? kept.typed.length : kept.texts.length - 1;
      for (let i = 0; i < rows; i++) {
        const row = source[i]!;
        out[i] = row >= 0 ? own[row]! : other[-row - 1]! && other[-row - 1]! + beyond;
      }
    }
    yield;
    const entry = new Float64Array(rows);
    for (let i = 0; i < rows; i++) entry[i] = source[i]! >= 0 ? kept.entry[source[i]!]! : added.entry[-source[i]! - 1]!;
    yield;
    const same = fresh.length === 0 && names.length === kept.names.length;
    const texts = kept.texts.concat(added.texts.slice(1));
    const once = kept.once ?? kept.texts.length;
    const all: Kept = {
      ...(same ? { items: kept.items, names: kept.names } : { items: new Map(names.map((n, at) => [n, at])), names }),
      ...{ starts: Uint32Array.from(starts), columns, entry, texts, once },
      typed: kept.typed.concat(added.typed),
    };
    return new PostedStore(texts.length > 2 * once + mostLeft ? yield* tidied(all) : all);
  }
}

/** So many items are looked at before others may have their turn. */
const AT_A_TIME = 10_000;

const OF_TEXT = ['list', 'pack', 'price', 'from', 'to', 'posting'] as const;

/** Without the texts that nothing names any more. */
function* tidied({ once: _, ...kept }: Kept): Pausable<Kept> {
  const texts = [''];
  const codes = new Uint32Array(kept.texts.length);
  const known = new Map<string, number>();
  const columns: Record<Column, Uint32Array> = { ...kept.columns };
  for (const column of OF_TEXT) {
    yield;
    columns[column] = kept.columns[column].map((of) => {
      if (of === 0 || codes[of]) return codes[of]!;
      const text = kept.texts[of]!;
      const code = known.get(text) ?? texts.push(text) - 1;
      known.set(text, code);
      return (codes[of] = code);
    });
  }
  const typed: Typed[] = [];
  columns.typed = kept.columns.typed.map((of) => of && typed.push(kept.typed[of - 1]!));
  return { ...kept, columns, texts, typed };
}

/** So many texts may always be left behind. */
const MOST_LEFT = 100_000;

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
