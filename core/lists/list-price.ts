import { Derivation, type RuleRef, type Step, calculate } from '../buildup/steps.ts';
import { type Limit, applyGuards } from '../guards/guards.ts';
import { type Dec, dec, divide, plain, roundHalfUp, settle, share } from '../numbers/decimal.ts';
import { leastQuantity } from '../quotes/order-quantity.ts';
import { type Outcome, type Reason, figure, refusal, wording } from '../reasons.ts';
import { type ComputedPrice, type Falls, type OtherList, runRecipe } from '../recipes/compute-price.ts';
import type { Ladder } from '../rounding/ladder.ts';
import type { Item, Pack } from '../items/item.ts';
import type { ListsView } from './view.ts';
import type { PostedPrice } from './posted-price.ts';
import type { PriceList } from './price-list.ts';
import { channelsOf, describeScope } from '../items/scope.ts';
import type { PriceQuestion } from './achieved.ts';
import { exactPriceOf } from './exact-price.ts';
import { type EntryLimit, type ListEntry, changeOperation, describeChange, entriesFor, isDated } from './entries.ts';
import { exchangeTo, putOn, roundBy, roundByLadder, roundToDecimals, takeOut } from './shown-steps.ts';
import { type ShownTerms, shownTerms } from './terms.ts';

/** What to do where nothing is posted: refuse, or let the list's recipe compute the price. */
export type Unposted = 'refuse' | 'compute';

/** A figure with the steps that lead to it. */
export interface Led {
  readonly price: Dec;
  readonly steps: readonly Step[];
}

/** A list whose price another one takes. */
export interface TakenFrom {
  readonly list: PriceList;
  readonly terms: ShownTerms;
  /** What its net prices are multiplied by; null: its prices are taken as they are. */
  readonly factor: Dec | null;
}

/** What a list asks for a pack of an item on a day; per pack, in the list's currency, as the list shows it. */
export interface ListPrice {
  readonly list: PriceList;
  /** The item whose prices count: the lead where the one asked for is in a lockstep group. */
  readonly item: Item;
  readonly pack: Pack;
  readonly terms: ShownTerms;
  /** What the list asks without what is only for some days. */
  readonly regular: Dec;
  /** What reductions and breaks start from: the price without days, before what is on top, to the list's decimals. */
  readonly base: Led;
  /** What stands on the day, before what is on top; exact. */
  readonly ask: Led;
  /** The entry that stands on the day; null: none does. */
  readonly entry: ListEntry | null;
  /** What comes on top of what stands, from the general to the special. */
  readonly onTop: readonly ListEntry[];
  /** What is only for some days and stands; `aboveRegular`: it is dearer than the usual price. */
  readonly dated: { readonly entry: ListEntry; readonly price: Dec; readonly aboveRegular: boolean } | null;
  /** What the list asks on the day. */
  readonly price: Dec;
  readonly source: 'entry' | 'posted' | 'recipe' | 'parent';
  /** The lists the price is taken from by falling back, the nearest first; empty where this list has a price of its own. */
  readonly takenFrom: readonly TakenFrom[];
  /** Leads to the price of the day. */
  readonly pricedSteps: readonly Step[];
}

const ruleOf = (list: PriceList, part?: string): RuleRef => ({
  kind: 'list',
  id: list.id,
  version: list.version,
  name: list.name,
  ...(part ? { part } : {}),
});

/** The price the recipe of a list makes, whatever is posted there. docs/arithmetic.md, "A recipe, in its order". */
export function computePrice(ws: ListsView, q: PriceQuestion, falls: Falls = 'keep'): Outcome<ComputedPrice> {
  return runRecipe(ws, q, [], basisFrom, falls);
}

/** The price of another list as a basis: what it asks on the day, by its recipe where nothing is posted. */
const basisFrom: OtherList = (ws, q, above) => {
  const found = find(ws, q, 'compute', above);
  if (!found.ok) return found;
  const { price, source, pricedSteps } = found.value;
  const first = pricedSteps[0]?.facts ?? {};
  const facts: Record<string, string> =
    source === 'posted'
      ? { posted: first['posted'] ?? '', posting: first['posting'] ?? '' }
      : source === 'recipe'
        ? { computed: 'not posted yet: by the recipe of that list' }
        : { from: source === 'entry' ? 'a typed entry of that list' : 'the parent of that list' };
  return figure({ price, facts });
};

/**
 * The price of a pack on one list: the entry that stands, worked out from what the list has under its entries (the posted
 * price, else with `compute` what its recipe makes, else its parent's price with the change), and what is on top.
 * docs/arithmetic.md, "Which entry".
 */
export function priceOnList(ws: ListsView, q: PriceQuestion, unposted: Unposted): Outcome<ListPrice> {
  return find(ws, q, unposted, []);
}

function find(ws: ListsView, q: PriceQuestion, unposted: Unposted, above: readonly string[]): Outcome<ListPrice> {
  const list = ws.lists.get(q.list);
  if (!list) return refusal('unknown_list', 'list', { list: q.list });
  const asked = ws.items.get(q.item);
  if (!asked) return refusal('unknown_item', 'item', { item: q.item });
  const item = ws.followed(asked);
  const pack = ws.packOf(asked, q.pack);
  if (!pack) return refusal('unknown_pack', 'pack', { item: asked.sku, pack: q.pack });
  if (above.includes(list.id)) {
    return refusal('lists_in_a_circle', `lists/${list.id}`, {
      lists: [...above, list.id].map((id) => ws.lists.get(id)?.name ?? id).join(' → '),
    });
  }
  const terms = shownTerms(ws, list, item, pack, q.day);
  if (!terms.ok) return terms;
  return new Finding(ws, list, asked, item, pack, terms.value, q, unposted, above).run();
}

/** A derivation on its way, and where it began. */
interface Way {
  readonly d: Derivation;
  readonly source: ListPrice['source'];
}

class Finding {
  private readonly deposit: Dec;
  private readonly posting: PostedPrice | null;
  private under: Outcome<Way> | null = null;
  private parents: readonly TakenFrom[] = [];

  constructor(
    private readonly ws: ListsView,
    private readonly list: PriceList,
    /** As asked for; its price is that of `item`, the one it follows, but entries see itself. */
    private readonly asked: Item,
    private readonly item: Item,
    private readonly pack: Pack,
    private readonly terms: ShownTerms,
    private readonly q: PriceQuestion,
    private readonly unposted: Unposted,
    private readonly above: readonly string[],
  ) {
    this.deposit = terms.depositShown;
    this.posting = ws.postingOn(list.id, item.id, pack.id, q.day);
  }

  run(): Outcome<ListPrice> {
    const { ws, list, item, pack, terms, q } = this;
    if (this.posting?.price === null) return this.noPrice({ code: 'taken_off', params: { day: this.posting.from } });
    const fitting = entriesFor(ws, list.id, this.asked, {
      day: q.day,
      pack,
      channels: channelsOf(list, q.channel),
      quantity: q.quantity ? dec(q.quantity) : leastQuantity(this.asked),
    });
    const standing = fitting.filter((e) => !e.onTop);
    const onTop = fitting.filter((e) => e.onTop).reverse();
    const entry = standing[0] ?? null;
    const usual = standing.find((e) => !isDated(e)) ?? null;
    const asks = this.stand(entry, standing);
    // The usual price is worked out even where a dated entry applies: discounts and breaks start from it. Where the usual
    // entry has no price (it leaves nothing and is not confirmed), the dated one still applies.
    const usually = entry === usual ? asks : this.stand(usual, standing);
    if (!asks.ok) return usually.ok ? asks : usually;
    const base = usually.ok ? usually.value : asks.value;
    const regular = this.rounded(
      base.d.figure,
      onTop.filter((e) => !isDated(e)),
    );
    const price = this.rounded(asks.value.d.figure, onTop);
    const dated = entry && isDated(entry) ? entry : null;
    const aboveRegular = dated !== null && usually.ok && price.gt(regular);
    if (aboveRegular) this.mark(asks.value.d, dated, regular);
    const priced = fork(asks.value.d);
    for (const e of onTop) {
      const done = this.change(priced, e, null);
      if (!done.ok) return done;
    }
    if (!priced.figure.eq(price)) roundToDecimals(ws, priced, list);
    const baseSteps = fork(base.d);
    const basePrice = this.rounded(base.d.figure, []);
    if (!baseSteps.figure.eq(basePrice)) roundToDecimals(ws, baseSteps, list);
    return figure({
      list,
      item,
      pack,
      terms,
      regular,
      base: { price: basePrice, steps: baseSteps.steps },
      ask: { price: asks.value.d.figure, steps: asks.value.d.steps },
      entry,
      onTop,
      dated: dated && { entry: dated, price, aboveRegular },
      price,
      source: onTop.length > 0 ? 'entry' : asks.value.source,
      takenFrom: entry?.kind === 'price' ? [] : this.parents,
      pricedSteps: priced.steps,
    });
  }

  /** To the list's decimals, once, after what is on top; a price that no entry touched stays as it was posted. */
  private rounded(price: Dec, onTop: readonly ListEntry[]): Dec {
    const reduced = onTop.reduce((at, e) => calculate(changeOperation(e, this.deposit, this.pack), at), price);
    const posted = onTop.length === 0 && this.under?.ok && this.under.value.d.figure.eq(price);
    return posted ? price : roundHalfUp(reduced, this.ws.decimalsOf(this.list));
  }

  /** A dated entry that is dearer than the usual price stands, and says so. */
  private mark(d: Derivation, entry: ListEntry, regular: Dec): void {
    const at = d.steps.findIndex((s) => s.rule?.kind === 'list' && s.rule.part === entry.id);
    const step = d.steps[at];
    if (!step) return;
    d.steps[at] = {
      ...step,
      flag: 'dated_above_regular',
      facts: { ...step.facts, 'dearer than the usual': plain(regular) },
    };
  }

  private entryFacts(e: ListEntry): Record<string, string> {
    return {
      entry: describeScope(this.ws, e.scope),
      change: describeChange(e),
      ...(e.onTop ? { 'on top': 'of what stands' } : {}),
      ...(e.from ? { from: e.from } : {}),
      ...(e.to ? { to: e.to } : {}),
      ...(e.leastQuantity ? { 'from a quantity of': e.leastQuantity } : {}),
    };
  }

  /** The price under an entry, with the entry's change; without an entry what lies under them all. */
  private stand(entry: ListEntry | null, standing: readonly ListEntry[]): Outcome<Way> {
    if (entry?.kind === 'price') {
      const d = new Derivation();
      const started = this.start(d, entry, this.lostTo(entry, standing));
      return started.ok ? figure({ d, source: 'entry' }) : started;
    }
    this.under ??= this.underEntries();
    if (!this.under.ok || !entry) return this.under;
    const d = fork(this.under.value.d);
    const done = this.change(d, entry, this.lostTo(entry, standing));
    return done.ok ? figure({ d, source: 'entry' }) : done;
  }

  private lostTo(entry: ListEntry, standing: readonly ListEntry[]): Step['lost'] {
    const others = standing.slice(standing.indexOf(entry) + 1);
    return others.map((o) => ({
      name: `${describeScope(this.ws, o.scope)}: ${describeChange(o)}`,
      why: isDated(entry) && !isDated(o) ? 'a dated entry stands on this day' : 'a more specific entry stands',
    }));
  }

  private start(d: Derivation, e: ListEntry, lost: Step['lost']): Outcome<void> {
    d.add({
      kind: 'list_price',
      operation: { op: 'start', value: plain(exactPriceOf(e.value, e.perUnit, this.pack)) },
      currency: this.list.currency,
      per: 'pack',
      rule: ruleOf(this.list, e.id),
      facts: this.entryFacts(e),
      ...(lost?.length ? { lost } : {}),
    });
    return this.confirmed(d, e) ?? this.finish(d, e, null);
  }

  private change(d: Derivation, e: ListEntry, lost: Step['lost'] | null): Outcome<void> {
    const from = d.figure;
    d.add({
      kind: 'entry',
      operation: changeOperation(e, this.deposit, this.pack),
      currency: this.list.currency,
      per: 'pack',
      rule: ruleOf(this.list, e.id),
      facts: this.entryFacts(e),
      ...(lost?.length ? { lost } : {}),
    });
    return this.confirmed(d, e) ?? this.finish(d, e, from);
  }

  /** Goods for nothing want a yes; goods for less than nothing are no price. */
  private confirmed(d: Derivation, e: ListEntry): Outcome<void> | null {
    const goods = d.figure.minus(this.deposit);
    const path = `lists/${this.list.id}/entries/${e.id}`;
    if (goods.lt(0)) return refusal('price_not_positive', path, { price: plain(goods) });
    if (goods.isZero() && !e.zeroConfirmed) return refusal('zero_not_confirmed', path, { item: this.asked.sku });
    return null;
  }

  /** The entry's own ladder, then its least and most. `from`: what it started from; null: a typed price. */
  private finish(d: Derivation, e: ListEntry, from: Dec | null): Outcome<void> {
    const { ws, list } = this;
    const limits = [this.limit(e.least, 'floor', from), this.limit(e.most, 'ceiling', from)].filter((l) => l !== null);
    let ladder: Ladder = { decimals: ws.decimalsOf(list), rungs: [] };
    if (e.ladder) {
      const rounded = roundBy(ws, d, list, { id: e.ladder, why: 'the entry' });
      if (!rounded.ok) return rounded;
      ladder = rounded.value;
    } else if (limits.length > 0 && !roundHalfUp(d.figure, ladder.decimals).eq(d.figure)) roundToDecimals(ws, d, list);
    const guarded = applyGuards(ladder, d.figure, limits);
    if (guarded.flag !== null) {
      d.add({
        kind: 'guard',
        operation: { op: 'set', value: plain(guarded.price) },
        currency: list.currency,
        per: 'pack',
        flag: guarded.flag,
        rule: { ...ruleOf(list, e.id), partName: guarded.bit.map((l) => `${l.id} of the entry`).join(', ') },
        facts: Object.fromEntries(guarded.bit.map((l) => [l.id, plain(l.at)])),
      });
    }
    return figure(undefined);
  }

  private limit(limit: EntryLimit | null | undefined, side: Limit['side'], from: Dec | null): Limit | null {
    const [id, kind] = side === 'floor' ? (['least', 'least_price'] as const) : (['most', 'most_price'] as const);
    if (limit?.amount) return { id, kind, side, at: dec(limit.amount) };
    if (!limit?.percent || !from) return null;
    const goods = from.minus(this.deposit).times(share(dec(limit.percent)));
    return { id, kind, side, at: settle(goods.plus(this.deposit)) };
  }

  /** Posted here, else computed here, else the parent's. */
  private underEntries(): Outcome<Way> {
    const { ws, list, item, q, posting: posted } = this;
    const d = new Derivation();
    if (posted) {
      d.add({
        kind: 'list_price',
        operation: { op: 'start', value: posted.price! },
        currency: list.currency,
        per: 'pack',
        rule: ruleOf(list),
        facts: { posted: posted.from, posting: posted.posting },
      });
      return figure({ d, source: 'posted' });
    }
    let why: Reason | null = null;
    if (this.unposted === 'compute' && ws.recipeFor(list, item)) {
      const computed = runRecipe(ws, q, this.above, basisFrom);
      if (computed.ok) {
        d.continueFrom(computed.value.steps, computed.value.price);
        d.add({
          kind: 'list_price',
          operation: { op: 'set', value: plain(computed.value.price) },
          currency: list.currency,
          per: 'pack',
          rule: ruleOf(list),
          facts: { computed: 'not posted: by the recipe of the list' },
        });
        return figure({ d, source: 'recipe' });
      }
      why = computed.reason;
    }
    if (list.parent && list.unnamed !== 'not_sold') return this.fromParent(d, list.parent, why);
    if (why) return { ok: false, reason: why };
    return this.noPrice();
  }

  private noPrice(otherwise?: Reason['otherwise']): Outcome<never> {
    const { list, item, q } = this;
    const { reason } = refusal('no_price_on_list', `lists/${list.id}`, { item: item.sku, list: list.name, day: q.day });
    return { ok: false, reason: { ...reason, ...(otherwise ? { otherwise } : {}) } };
  }

  private fromParent(d: Derivation, fall: NonNullable<PriceList['parent']>, why: Reason | null): Outcome<Way> {
    const { ws, list, item, pack, q, terms } = this;
    const found = find(ws, { ...q, list: fall.list }, this.unposted, [...this.above, list.id]);
    if (!found.ok) return found;
    const parent = found.value;
    const made: Outcome<Way> = figure({ d, source: 'parent' });
    d.continueFrom(parent.pricedSteps, parent.price);
    const factor = dec(1)
      .plus(share(dec(fall.percent ?? '0')))
      .times(fall.factor ?? '1');
    const facts: Record<string, string> = { 'falls back to': parent.list.name };
    if (why) facts['no price here'] = wording(why);
    const alike =
      parent.list.currency === list.currency &&
      ws.taxDisplay(parent.list) === ws.taxDisplay(list) &&
      terms.depositShown.eq(parent.terms.depositShown) &&
      !fall.rate;
    if (alike && factor.eq(1)) {
      this.takeFrom(parent, null);
      this.add(d, 'fall_back', { op: 'plus', value: '0' }, facts);
      return made;
    }
    takeOut(d, parent.terms, parent.list);
    const net = d.figure;
    if (fall.rate) this.add(d, 'exchange', { op: 'times', value: fall.rate }, { 'typed rate': fall.rate });
    else {
      const exchanged = exchangeTo(ws, d, parent.list.currency, list, q.day, 'pack');
      if (!exchanged.ok) return exchanged;
    }
    this.add(
      d,
      'fall_back',
      { op: 'times', value: plain(factor) },
      {
        ...facts,
        ...(fall.percent ? { 'per cent': fall.percent } : {}),
        ...(fall.factor ? { factor: fall.factor } : {}),
      },
    );
    this.takeFrom(parent, net.isZero() ? factor : divide(d.figure, net));
    putOn(d, terms, list, item, pack);
    const rounded = roundByLadder(ws, d, list, null, { item, pack });
    return rounded.ok ? made : rounded;
  }

  private takeFrom({ list, terms, takenFrom }: ListPrice, factor: Dec | null): void {
    const further = takenFrom.map((p) => ({
      ...p,
      // a parent with other terms on the way makes all that lies behind it go by its net price
      factor: factor === null ? p.factor : factor.times(p.factor ?? 1),
    }));
    this.parents = [{ list, terms, factor }, ...further];
  }

  private add(d: Derivation, kind: Step['kind'], operation: Step['operation'], facts: Record<string, string>): void {
    d.add({ kind, operation, currency: this.list.currency, per: 'pack', rule: ruleOf(this.list), facts });
  }
}

/** A derivation that goes on by itself from here. */
function fork(d: Derivation): Derivation {
  const out = new Derivation();
  out.continueFrom(d.steps, d.figure);
  return out;
}
