import { Growing } from '../growing.ts';
import { type Pausable, toEnd } from '../pausable.ts';
import type { Lookup } from '../lookup/lookup.ts';
import type { PostedPrice } from '../lists/posted-price.ts';

/** Numbers up to a largest, in as few bytes as hold it. */
type Codes = Uint8Array | Uint16Array | Uint32Array;
const codesFor = (rows: number, most: number): Codes =>
  most < 2 ** 8 ? new Uint8Array(rows) : most < 2 ** 16 ? new Uint16Array(rows) : new Uint32Array(rows);

/** Numbers of posting lines: most databases have fewer than four thousand million. */
type Entries = Uint32Array | Float64Array;
const entriesFor = (rows: number, most: number): Entries =>
  most < 2 ** 32 ? new Uint32Array(rows) : new Float64Array(rows);

/** In another order: `at` says where each value goes. `most`: the largest of them. */
function* placed(values: Uint32Array, at: Uint32Array, most: number): Pausable<Codes> {
  const out = codesFor(values.length, most);
  yield* inParts(values.length, ROWS_AT_A_TIME, (from, to) => {
    for (let i = from; i < to; i++) out[at[i]!] = values[i]!;
  });
  return out;
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

const OF_TEXT = ['list', 'pack', 'price', 'from', 'to', 'posting'] as const;
type TextColumn = (typeof OF_TEXT)[number];
const COLUMNS = [...OF_TEXT, 'typed'] as const;
type Column = (typeof COLUMNS)[number];
type Typed = NonNullable<PostedPrice['handSet']>;

/** Everything of a store but its ways. */
interface Kept {
  readonly items: ReadonlyMap<string, number>;
  readonly names: readonly string[];
  /** Where the postings of each item begin. */
  readonly starts: Uint32Array;
  readonly columns: Readonly<Record<Column, Codes>>;
  readonly entry: Entries;
  readonly mostEntry: number;
  /** Of each column its own. */
  readonly texts: Readonly<Record<TextColumn, readonly string[]>>;
  readonly typed: readonly Typed[];
  /** How many texts there were when the store was put together. */
  readonly once: number;
}

const allTexts = (texts: Kept['texts']): number => OF_TEXT.reduce((n, column) => n + texts[column].length, 0);

/**
 * Posted prices by item, as columns: of a million of them each takes some twenty bytes, and becomes an object only while
 * somebody looks at it. What belongs to one item stands together, in the order in which it was put in.
 */
export class PostedStore implements Lookup<readonly PostedPrice[]>, Iterable<PostedPrice> {
  constructor(private readonly kept: Kept) {}

  private price(row: number, item: string): PostedPrice {
    const { columns, entry, texts, typed } = this.kept;
    const text = (column: TextColumn) => texts[column][columns[column][row]!]!;
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
      if (texts.list[columns.list[row]!] === list && texts.pack[columns.pack[row]!] === pack)
        out.push(this.price(row, item));
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
    const stays = texts.list.map((text) => !lists.has(text));
    return yield* this.merged(now, (_, row) => stays[columns.list[row]!]!, mostLeft);
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
    yield* inParts(kept.names.length, ITEMS_AT_A_TIME, (from, to) => {
      for (let at = from; at < to; at++) {
        for (let row = kept.starts[at]!; row < kept.starts[at + 1]!; row++) if (stays(at, row)) source[rows++] = row;
        addedOf(added.items.get(kept.names[at]!));
        end(kept.names[at]!);
      }
    });
    const fresh = added.names.filter((name) => !kept.items.has(name));
    for (const name of fresh) {
      addedOf(added.items.get(name));
      end(name);
    }
    const columns = {} as Record<Column, Codes>;
    for (const column of COLUMNS) {
      const [own, other] = [kept.columns[column], added.columns[column]];
      const beyond = column === 'typed' ? kept.typed.length : kept.texts[column].length - 1;
      const more = column === 'typed' ? added.typed.length : added.texts[column].length - 1;
      const out = (columns[column] = codesFor(rows, beyond + more));
      yield* inParts(rows, ROWS_AT_A_TIME, (from, to) => {
        for (let i = from; i < to; i++) {
          const row = source[i]!;
          out[i] = row >= 0 ? own[row]! : other[-row - 1]! && other[-row - 1]! + beyond;
        }
      });
    }
    const mostEntry = Math.max(kept.mostEntry, added.mostEntry);
    const entry = entriesFor(rows, mostEntry);
    yield* inParts(rows, ROWS_AT_A_TIME, (from, to) => {
      for (let i = from; i < to; i++)
        entry[i] = source[i]! >= 0 ? kept.entry[source[i]!]! : added.entry[-source[i]! - 1]!;
    });
    const same = fresh.length === 0 && names.length === kept.names.length;
    const texts = byText((column) => kept.texts[column].concat(added.texts[column].slice(1)));
    const { once } = kept;
    const all: Kept = {
      ...(same ? { items: kept.items, names: kept.names } : { items: new Map(names.map((n, at) => [n, at])), names }),
      ...{ starts: Uint32Array.from(starts), columns, entry, mostEntry, texts, once },
      typed: kept.typed.concat(added.typed),
    };
    return new PostedStore(allTexts(texts) > 2 * once + mostLeft ? yield* tidied(all) : all);
  }
}

/** So much is looked at before others may have their turn: some milliseconds. */
const ITEMS_AT_A_TIME = 1_000;
const ROWS_AT_A_TIME = 50_000;

function* inParts(length: number, most: number, part: (from: number, to: number) => void): Pausable<void> {
  for (let from = 0; from < length; from += most) {
    part(from, Math.min(length, from + most));
    yield;
  }
}

/** Without the texts that nothing names any more. */
function* tidied(kept: Kept): Pausable<Kept> {
  const texts = {} as Record<TextColumn, readonly string[]>;
  const columns = {} as Record<Column, Codes>;
  for (const column of OF_TEXT) {
    const own = new Texts();
    const [before, coded] = [kept.texts[column], kept.columns[column]];
    const codes = new Uint32Array(before.length);
    yield* inParts(coded.length, ROWS_AT_A_TIME, (from, to) => {
      for (let i = from; i < to; i++) if (coded[i]) codes[coded[i]!] ||= own.code(before[coded[i]!]);
    });
    const out = (columns[column] = codesFor(coded.length, own.list.length - 1));
    yield* inParts(coded.length, ROWS_AT_A_TIME, (from, to) => {
      for (let i = from; i < to; i++) out[i] = codes[coded[i]!]!;
    });
    texts[column] = own.list;
  }
  const typed: Typed[] = [];
  columns.typed = kept.columns.typed.map((of) => of && typed.push(kept.typed[of - 1]!));
  return { ...kept, columns, texts, typed, once: allTexts(texts) };
}

const byText = <T>(make: (column: TextColumn) => T): Record<TextColumn, T> =>
  Object.fromEntries(OF_TEXT.map((column) => [column, make(column)])) as Record<TextColumn, T>;

/** So many texts may always be left behind. */
const MOST_LEFT = 100_000;

/** Gathers postings, in any order. */
export class PostedStoreBuilder {
  private readonly items = new Map<string, number>();
  private readonly names: string[] = [];
  private readonly item = new Growing(Uint32Array);
  private readonly columns = Object.fromEntries(COLUMNS.map((c) => [c, new Growing(Uint32Array)])) as Record<
    Column,
    Growing<Uint32Array>
  >;
  private readonly entry = new Growing(Float64Array);
  private readonly texts = byText(() => new Texts());
  private mostEntry = 0;
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
    columns.list.push(texts.list.code(p.list));
    columns.pack.push(texts.pack.code(p.pack));
    columns.price.push(texts.price.code(p.price));
    columns.from.push(texts.from.code(p.from));
    columns.to.push(texts.to.code(p.to));
    columns.posting.push(texts.posting.code(p.posting));
    columns.typed.push(p.handSet ? this.typed.push(p.handSet) : 0);
    this.entry.push(p.entry);
    this.mostEntry = Math.max(this.mostEntry, p.entry);
  }

  made(): PostedStore {
    return toEnd(this.making());
  }

  /** The same of a million postings, to be paused. */
  *making(): Pausable<PostedStore> {
    const rows = this.item.length;
    const starts = new Uint32Array(this.names.length + 1);
    yield* inParts(rows, ROWS_AT_A_TIME, (from, to) => {
      for (let i = from; i < to; i++) starts[this.item.get(i) + 1]!++;
    });
    for (let i = 1; i < starts.length; i++) starts[i]! += starts[i - 1]!;
    const next = starts.slice();
    const places = new Uint32Array(rows);
    yield* inParts(rows, ROWS_AT_A_TIME, (from, to) => {
      for (let i = from; i < to; i++) places[i] = next[this.item.get(i)]!++;
    });
    const entry = entriesFor(rows, this.mostEntry);
    yield* inParts(rows, ROWS_AT_A_TIME, (from, to) => {
      for (let i = from; i < to; i++) entry[places[i]!] = this.entry.get(i);
    });
    const texts = byText((column) => this.texts[column].list);
    const columns = {} as Record<Column, Codes>;
    for (const c of COLUMNS) {
      columns[c] = yield* placed(this.columns[c].all, places, c === 'typed' ? this.typed.length : texts[c].length - 1);
    }
    return new PostedStore({
      ...{ items: this.items, names: this.names, starts, columns, entry, mostEntry: this.mostEntry },
      ...{ texts, typed: this.typed, once: allTexts(texts) },
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
