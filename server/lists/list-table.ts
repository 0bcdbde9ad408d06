import { compareNumbers } from '#contract/filters.ts';
import { LOOKS, type Look } from '#contract/looks.ts';
import { amountsOf } from '#core/bulk/posted-columns.ts';
import type { BulkWorkspace } from '#core/bulk/bulk-prices.ts';
import type { BulkList } from '#core/bulk/prepare-list.ts';
import { type BulkPrices, FLAGS, PERCENT_PLACES, emptyPrices, priceRows } from '#core/bulk/price-rows.ts';
import { landedOnList, netOnList } from '#core/bulk/row-figures.ts';
import { GUARD_NAMES } from '#core/guards/guards.ts';
import { Growing } from '#core/growing.ts';
import type { Pausable } from '#core/pausable.ts';
import { plusDays } from '#core/numbers/day.ts';
import { GUARD_KINDS } from '#core/recipes/recipe.ts';
import { describeUplift } from '#core/recipes/uplift.ts';
import type { Item, Pack } from '#core/items/item.ts';
import { postedAs } from '#core/lists/price-to-post.ts';
import { type PostedPrice, lastDayOf } from '#core/lists/posted-price.ts';
import type { PriceList } from '#core/lists/price-list.ts';
import { type PackedBy, type PackedTable, Packing, joined } from '../windows/pack.ts';
import { turns } from '../platform/turns.ts';
import type { Loaded } from '../workspace/state.ts';
import { askedPrice } from './asked-price.ts';
import { bulkOf, bulkOfItems } from './compute-rows.ts';
import { ListRows } from './list-rows.ts';
import type { ListPriceRow } from '#contract/list-row.ts';

/** How many days before its end a price is told of. */
const SOON = 7;

/** A row as it is arranged: figures as the doubles nearest to them, NaN where there is none. What is shown is made exactly. */
interface Figures {
  category: string;
  posted: number;
  from: string;
  until: string;
  asks: number;
  source: string;
  handSet: string;
  proposed: number;
  change: number;
  marginBefore: number;
  marginAfter: number;
  cost: number;
  guard: string;
  uplift: string;
  reason: string;
}

const SOURCES = {
  entry: 'entry of this list',
  posted: 'posted',
  recipe: 'its recipe',
  parent: 'inherited from',
} as const;

const open = (places: number): readonly PackedBy<Figures>[] => [
  { id: 'category', text: (r) => r.category },
  { id: 'posted', places, figure: (r) => r.posted },
  { id: 'from', text: (r) => r.from },
  { id: 'until', text: (r) => r.until },
  { id: 'asks', places, figure: (r) => r.asks },
  { id: 'source', text: (r) => r.source },
];
/** Those that speak of costs. */
const costly = (places: number): readonly PackedBy<Figures>[] => [
  { id: 'handSet', text: (r) => r.handSet },
  { id: 'proposed', places, figure: (r) => r.proposed },
  { id: 'change', places: 2, figure: (r) => r.change },
  { id: 'marginBefore', places: 2, figure: (r) => r.marginBefore },
  { id: 'marginAfter', places: 2, figure: (r) => r.marginAfter },
  { id: 'cost', places: 4, figure: (r) => r.cost },
  { id: 'guard', text: (r) => r.guard },
  { id: 'uplift', text: (r) => r.uplift },
  { id: 'reason', text: (r) => r.reason },
];

export const SEARCHED = ['sku', 'name', 'pack', 'category'] as const;
export const OPEN_COLUMNS: readonly string[] = [...SEARCHED, ...open(2).map((c) => c.id)];
export const COST_COLUMNS: readonly string[] = [...OPEN_COLUMNS, ...costly(2).map((c) => c.id)];

const LOOK_NAMES = Object.keys(LOOKS) as Look[];
/** The bit of each look, and of the rows that posting what is computed would change. */
export const LOOK_BITS = Object.fromEntries([...LOOK_NAMES, 'postable'].map((name, bit) => [name, 1 << bit])) as Record<
  Look | 'postable',
  number
>;

/** And the bits of what is counted besides. */
const COUNTED = ['up', 'down', 'unchanged', 'soon', 'waits'] as const;
const COUNT_BITS = Object.fromEntries(COUNTED.map((name, n) => [name, 1 << (LOOK_NAMES.length + 1 + n)])) as Record<
  (typeof COUNTED)[number],
  number
>;

/** Rows of a list as columns, and what each is. */
export interface ListRowTable {
  readonly table: PackedTable;
  /** What each row is, by the bits of the looks and of what is counted. */
  readonly masks: Uint32Array;
}

/** A list's prices on a day as columns, in the order of its rows. */
export interface ListTable extends ListRowTable {
  /** How many rows each look shows. */
  readonly looks: Readonly<Record<Look, number>>;
  readonly summary: { readonly up: number; readonly down: number; readonly unchanged: number };
  /** Prices that end soon, and prices that would fall and wait to be decided. */
  readonly ending: number;
  readonly falling: number;
}

/** What a posted price, a computed one and what is asked come to, and which looks that is. */
interface Seen {
  readonly figures: Figures;
  /** Whether what is computed is more than what is posted, less, or the same; null: one of them is missing. */
  readonly by: number | null;
  readonly held: boolean;
  readonly bit: boolean;
  readonly loss: boolean;
  readonly inherited: boolean;
  readonly dated: boolean;
  readonly falls: boolean;
}

const number = (text: string | null): number => (text === null ? NaN : Number(text));

/** Of a row that was made exactly. */
function seenIn(r: ListPriceRow): Seen {
  return {
    figures: {
      category: r.category,
      posted: number(r.posted),
      from: r.postedFrom ?? '',
      until: r.lastDay ?? '',
      asks: number(r.asks),
      source: sourceText(r),
      handSet: r.handSet ?? '',
      proposed: number(r.proposed),
      change: number(r.changePercent),
      marginBefore: number(r.marginBefore),
      marginAfter: number(r.marginAfter),
      cost: number(r.cost),
      guard: r.bit.join(', '),
      uplift: r.uplift ?? '',
      reason: r.reason ?? '',
    },
    by: r.posted === null || r.proposed === null ? null : compareNumbers(r.proposed, r.posted),
    held: LOOKS.held.fits(r),
    bit: LOOKS.bit.fits(r),
    loss: LOOKS.loss.fits(r),
    inherited: LOOKS.inherited.fits(r),
    dated: LOOKS.dated.fits(r),
    falls: r.wouldFallTo !== null,
  };
}

const sourceText = (r: Pick<ListPriceRow, 'source' | 'from'>): string =>
  r.source === null ? '' : `${SOURCES[r.source]}${r.from ? ` ${r.from}` : ''}`;

const hundredths = (value: number): number => Math.round(value * 100) / 100;
/** A share of what was compared below which it is left to the exact way which of two is more. */
const CLOSE = 2 ** -40;

/** The rows of a list as figures: from columns where the bulk way decided, else from the row made exactly. */
class SeenRows {
  private readonly prices: BulkPrices | null = null;
  private readonly ready: BulkList | null;
  private readonly amounts: Float64Array;
  private readonly exact: ListRows;
  private readonly guards = new Map<number, string>();

  constructor(
    private readonly loaded: Loaded,
    private readonly list: PriceList,
    private readonly bulk: BulkWorkspace,
  ) {
    const { columns } = this.bulk;
    const posted = this.bulk.posted(list);
    this.amounts = amountsOf(posted);
    const priced = list.recipe !== null || (list.recipes?.length ?? 0) > 0;
    this.ready = priced ? this.bulk.list(list, posted) : null;
    // what the bulk way left open is explained: no columns are made for it
    this.exact = new ListRows(loaded, list, priced, []);
    if (!this.ready) return;
    this.prices = emptyPrices(columns.rows.length, this.ready.ladder.scale);
    priceRows(columns, this.ready, this.prices, 0, columns.rows.length);
  }

  async row(item: Item, pack: Pack, posted: PostedPrice | null): Promise<Seen> {
    const as = postedAs(this.loaded.ws, item.id, pack.id);
    const i = this.prices ? this.bulk.rowOf(as.item, as.pack) : undefined;
    return (i === undefined ? null : this.fast(i, item, pack, posted)) ?? seenIn(await this.exact.row(item, pack));
  }

  /** Null: only the exact way can say. */
  private fast(i: number, item: Item, pack: Pack, stands: PostedPrice | null): Seen | null {
    const { ready, prices, list } = this;
    const { ws, day } = this.loaded;
    const flag = FLAGS[prices!.flag[i]!]!;
    if (flag !== 'none' && flag !== 'bit') return null;
    const { columns } = this.bulk;
    const recipe = ws.recipeFor(list, ws.followed(item));
    if (!recipe) return null;
    const posted = stands ? this.amounts[i]! : NaN;
    const proposed = prices!.price[i]! / prices!.scale;
    const cost = landedOnList(columns, ready!, i);
    const net = netOnList(columns, ready!, i, posted);
    if (stands && !(Math.abs(net - cost) > (Math.abs(net) + cost) * CLOSE)) return null;
    const asked = askedPrice(ws, list, item, pack, day, stands ? stands.price! : null);
    return {
      figures: {
        category: ws.categories.get(item.category)?.name ?? '',
        posted,
        from: stands?.from ?? '',
        until: (stands && lastDayOf(stands)) ?? '',
        asks: number(asked.asks),
        source: sourceText(asked),
        handSet: stands?.handSet?.reason ?? '',
        proposed,
        change: stands ? hundredths(((proposed - posted) / posted) * 100) : NaN,
        marginBefore: stands ? hundredths(((net - cost) / net) * 100) : NaN,
        marginAfter: prices!.margin[i]! / 10 ** PERCENT_PLACES,
        cost,
        guard: this.guardWords(prices!.guards[i]!),
        uplift: describeUplift(recipe.uplift[prices!.row[i]!]!),
        reason: '',
      },
      // both are whole units below 2 to the 52nd: the nearest doubles of two such figures differ where these do
      by: stands ? Math.sign(proposed - posted) : null,
      held: false,
      bit: flag === 'bit',
      loss: net < cost,
      inherited: asked.source === 'parent',
      dated: asked.dated !== null,
      falls: !Number.isNaN(prices!.wouldFallTo[i]!),
    };
  }

  private guardWords(bits: number): string {
    const known = this.guards.get(bits);
    if (known !== undefined) return known;
    const words = GUARD_KINDS.filter((_, g) => bits & (1 << g))
      .map((g) => GUARD_NAMES[g])
      .join(', ');
    this.guards.set(bits, words);
    return words;
  }
}

/** The rows of some items of a list, or of all. Gives way to other work while it computes. */
export async function listRowTable(
  loaded: Loaded,
  list: PriceList,
  items: readonly Item[] = loaded.ws.workspace.items,
): Promise<ListRowTable> {
  const { ws, day } = loaded;
  const places = ws.decimalsOf(list);
  const expected = items.reduce((n, item) => n + item.packs.length, 0);
  const packing = new Packing<Figures>([...open(places), ...costly(places)], expected);
  const all = items === ws.workspace.items;
  const rows = new SeenRows(loaded, list, all ? bulkOf(loaded) : bulkOfItems(loaded, items));
  const turn = turns();
  const masks = new Growing(Uint32Array, expected);
  const soon = plusDays(day, SOON);
  for (const item of items)
    for (const pack of item.packs) {
      const posted = ws.postedFor(list.id, item, pack.id, day) ?? null;
      const lastDay = posted && lastDayOf(posted);
      const { figures: f, by, held, falls, ...seen } = await rows.row(item, pack, posted);
      packing.take(f);
      const without = Number.isNaN(f.proposed);
      const first = Number.isNaN(f.posted);
      const is: Record<Look, boolean> = {
        all: true,
        changed: by !== null && by !== 0,
        new: first && !without,
        held,
        hand: f.handSet !== '',
        ending: lastDay !== null,
        without,
        ...seen,
      };
      let mask = !without && !held && by !== 0 ? LOOK_BITS.postable : 0;
      for (const name of LOOK_NAMES) if (is[name]) mask |= LOOK_BITS[name];
      if (!without) mask |= COUNT_BITS[by === null || by > 0 ? 'up' : by < 0 ? 'down' : 'unchanged'];
      if (lastDay && lastDay <= soon) mask |= COUNT_BITS.soon;
      if (falls && !ws.recipeFor(list, ws.followed(item))?.quietFalls) mask |= COUNT_BITS.waits;
      masks.push(mask);
      await turn();
    }
  return { table: packing.packed(), masks: masks.all.slice() };
}

/** With what its rows count up to. */
export function counted({ table, masks }: ListRowTable): ListTable {
  // few masks are many rows
  const rows = new Uint32Array(1 << (LOOK_NAMES.length + 1 + COUNTED.length));
  const known = new Set<number>();
  for (const mask of masks) if (rows[mask]!++ === 0) known.add(mask);
  const count = (bit: number) => [...known].reduce((n, mask) => (mask & bit ? n + rows[mask]! : n), 0);
  const { up, down, unchanged, soon, waits } = COUNT_BITS;
  return {
    table,
    masks,
    looks: Object.fromEntries(LOOK_NAMES.map((name) => [name, count(LOOK_BITS[name])])) as Record<Look, number>,
    summary: { up: count(up), down: count(down), unchanged: count(unchanged) },
    ending: count(soon),
    falling: count(waits),
  };
}

export const listTable = async (loaded: Loaded, list: PriceList): Promise<ListTable> =>
  counted(await listRowTable(loaded, list));

/** Rows of some items of a list, to be put among those that stay as they are. */
export interface ListPatch extends ListRowTable {
  readonly items: Uint32Array;
}

/** So many rows are put in at a time. */
const PAUSE_ROWS = 10_000;

/** A list's rows in the order of `packs`: those of a patch, and of the rest as they were. To be paused. */
export function* withPatch(
  was: { readonly of: ListTable; readonly packs: PackTable },
  packs: PackTable,
  patch: ListPatch,
): Pausable<ListTable> {
  if (patch.items.length === 0 && was.packs === packs) return was.of;
  const anew = new Set(patch.items);
  const placeOf = placesIn(was.packs, packs);
  const rows = packs.packs.length;
  const [from, masks] = [new Int32Array(rows), new Uint32Array(rows)];
  for (let n = 0, next = 0; n < rows; n++) {
    if (n % PAUSE_ROWS === PAUSE_ROWS - 1) yield;
    if (anew.has(packs.items[n]!)) {
      from[n] = -1 - next;
      masks[n] = patch.masks[next++]!;
      continue;
    }
    const place = placeOf(packs.packs[n]!, n);
    if (place === undefined) throw new Error(`pack ${packs.packs[n]} is neither new nor known`);
    from[n] = place;
    masks[n] = was.of.masks[place]!;
  }
  yield;
  const table = yield* joined(was.of.table, patch.table, from);
  return counted({ table, masks });
}

/** Where a pack of one table stood in the one before. */
function placesIn(before: PackTable, now: PackTable): (pack: number, n: number) => number | undefined {
  if (before === now) return (_, n) => n;
  const places = new Map<number, number>();
  before.packs.forEach((pack, place) => places.set(pack, place));
  return (pack) => places.get(pack);
}

/** The packs that are sold, in the order in which every list has them. */
export interface PackTable {
  readonly table: PackedTable;
  readonly items: Uint32Array;
  readonly packs: Uint32Array;
}

export function packTable({ ws }: Loaded): PackTable {
  const rows = ws.workspace.items.flatMap((item) => item.packs.map((pack) => ({ item, pack })));
  const packing = new Packing<(typeof rows)[number]>([
    { id: 'sku', text: (r) => r.item.sku },
    { id: 'name', text: (r) => r.item.name },
    { id: 'pack', text: (r) => r.pack.name },
  ]);
  for (const row of rows) packing.take(row);
  return {
    table: packing.packed(),
    items: Uint32Array.from(rows, (r) => Number(r.item.id)),
    packs: Uint32Array.from(rows, (r) => Number(r.pack.id)),
  };
}
