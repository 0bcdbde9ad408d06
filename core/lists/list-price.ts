import { Derivation, type RuleRef, type Step } from '../buildup/steps.ts';
import { type Dec, dec, plain, roundHalfUp, share } from '../numbers/decimal.ts';
import { type Outcome, type Reason, figure, refusal, wording } from '../reasons.ts';
import { type ComputedPrice, type OtherList, runRecipe } from '../recipes/compute-price.ts';
import type { Day, Item, Pack, Prepared, PriceList } from '../workspace/index.ts';
import { describeScope } from '../workspace/scope.ts';
import type { PriceQuestion } from './achieved.ts';
import { type ListEntry, changed, describeChange, entriesFor, isDated } from './entries.ts';
import { exchangeTo, putOn, roundByLadder, roundToDecimals, takeOut } from './shown-steps.ts';
import { type ShownTerms, shownTerms } from './terms.ts';

/** What to do where nothing is posted: refuse, or let the list's recipe compute the price. */
export type Unposted = 'refuse' | 'compute';

/** What a list asks for a pack of an item on a day; per pack, in the list's currency, as the list shows it. */
export interface ListPrice {
  readonly list: PriceList;
  /** The item whose prices count: the lead where the one asked for is in a lockstep group. */
  readonly item: Item;
  readonly pack: Pack;
  readonly terms: ShownTerms;
  /** Without what is only for some days. */
  readonly regular: Dec;
  /** What is only for some days: the price it makes, and whether it goes on top of other reductions. */
  readonly dated: { readonly entry: ListEntry; readonly price: Dec; readonly aboveRegular: boolean } | null;
  /** What the list asks on the day: the dated price where there is one, else the regular one. */
  readonly price: Dec;
  readonly source: 'entry' | 'posted' | 'recipe' | 'parent';
  /** Leads to the regular price. */
  readonly steps: readonly Step[];
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
export function computePrice(ws: Prepared, q: PriceQuestion): Outcome<ComputedPrice> {
  return runRecipe(ws, q, [], basisFrom);
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
 * The price of a pack on one list: its most specific entry, else the posted price, else (with `compute`) what its
 * recipe makes, else its parent's price with the change. docs/arithmetic.md, "Which entry".
 */
export function priceOnList(ws: Prepared, q: PriceQuestion, unposted: Unposted): Outcome<ListPrice> {
  return find(ws, q, unposted, []);
}

function find(ws: Prepared, q: PriceQuestion, unposted: Unposted, above: readonly string[]): Outcome<ListPrice> {
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
  return new Finding(ws, list, asked, item, pack, q.day, unposted, above).run();
}

class Finding {
  private readonly d = new Derivation();
  private source: ListPrice['source'] = 'posted';

  constructor(
    private readonly ws: Prepared,
    private readonly list: PriceList,
    private readonly asked: Item,
    private readonly item: Item,
    private readonly pack: Pack,
    private readonly day: Day,
    private readonly unposted: Unposted,
    private readonly above: readonly string[],
  ) {}

  run(): Outcome<ListPrice> {
    const { ws, list, item, pack, day, d } = this;
    const terms = shownTerms(ws, list, item, pack, day);
    if (!terms.ok) return terms;
    const deposit = terms.value.deposit.times(terms.value.depositTaxFactor);
    const fitting = entriesFor(ws, list.id, this.asked, pack.name, day);
    const winner = fitting[0];
    const dated = winner && isDated(winner) ? winner : null;
    const regular = this.regular(dated ? fitting.filter((e) => !isDated(e)) : fitting, deposit);
    // without a regular price a dated price stands alone; a dated reduction has nothing to reduce
    if (!regular.ok && dated?.kind !== 'price') return regular;
    if (!regular.ok) this.startFrom(dated!);
    const steps = [...d.steps];
    const price = regular.ok ? d.figure : dec(dated!.value);
    const datedPrice = dated ? this.decimals(changed(dated, price.minus(deposit), deposit).plus(deposit)) : null;
    if (dated && datedPrice && regular.ok) {
      d.add({
        kind: 'entry',
        operation: { op: 'set', value: plain(datedPrice) },
        currency: list.currency,
        per: 'pack',
        rule: ruleOf(list, dated.id),
        facts: this.entryFacts(dated),
        ...(datedPrice.gt(price) ? { flag: 'dated_above_regular' as const } : {}),
        lost: [{ name: 'the price without a date', why: 'a dated entry stands on this day', figure: plain(price) }],
      });
    }
    return figure({
      list,
      item,
      pack,
      terms: terms.value,
      regular: price,
      dated:
        dated && datedPrice && regular.ok
          ? { entry: dated, price: datedPrice, aboveRegular: datedPrice.gt(price) }
          : null,
      price: d.figure,
      source: this.source,
      steps,
      pricedSteps: d.steps,
    });
  }

  private decimals(price: Dec): Dec {
    return roundHalfUp(price, this.ws.decimalsOf(this.list));
  }

  private entryFacts(e: ListEntry): Record<string, string> {
    return {
      entry: describeScope(this.ws, e.scope),
      change: describeChange(e),
      ...(e.onTop ? { 'on top': 'of the less specific one' } : {}),
      ...(e.from ? { from: e.from } : {}),
      ...(e.to ? { to: e.to } : {}),
    };
  }

  private startFrom(e: ListEntry, others: readonly ListEntry[] = []): void {
    this.source = 'entry';
    this.d.add({
      kind: 'list_price',
      operation: { op: 'start', value: e.value },
      currency: this.list.currency,
      per: 'pack',
      rule: ruleOf(this.list, e.id),
      facts: this.entryFacts(e),
      lost: others.map((o) => ({
        name: `${describeScope(this.ws, o.scope)}: ${describeChange(o)}`,
        why: 'a more specific entry stands',
      })),
    });
  }

  /** The price without dated entries: the entries from the most specific down to the first that replaces, on what lies under it. */
  private regular(entries: readonly ListEntry[], deposit: Dec): Outcome<void> {
    const at = entries.findIndex((e) => !e.onTop);
    const [counts, lost] = at < 0 ? [entries, []] : [entries.slice(0, at + 1), entries.slice(at + 1)];
    const last = counts.at(-1);
    if (last?.kind === 'price') {
      if (dec(last.value).isZero() && !last.zeroConfirmed) {
        return refusal('zero_not_confirmed', `lists/${this.list.id}/entries/${last.id}`, { item: this.item.sku });
      }
      this.startFrom(last, lost);
    } else {
      const under = this.underEntries();
      if (!under.ok) return under;
    }
    const reductions = [...counts].reverse().filter((e) => e.kind !== 'price');
    for (const e of reductions) {
      this.source = 'entry';
      this.d.add({
        kind: 'entry',
        operation: { op: 'set', value: plain(changed(e, this.d.figure.minus(deposit), deposit).plus(deposit)) },
        currency: this.list.currency,
        per: 'pack',
        rule: ruleOf(this.list, e.id),
        facts: this.entryFacts(e),
        lost:
          e === last
            ? lost.map((o) => ({ name: describeScope(this.ws, o.scope), why: 'a more specific entry replaces it' }))
            : [],
      });
    }
    if (reductions.length > 0 && !this.decimals(this.d.figure).eq(this.d.figure))
      roundToDecimals(this.ws, this.d, this.list);
    return figure(undefined);
  }

  /** Posted here, else computed here, else the parent's. */
  private underEntries(): Outcome<void> {
    const { ws, d, list, item, pack, day } = this;
    const posted = ws.postedOn(list.id, item.id, pack.id, day);
    if (posted) {
      d.add({
        kind: 'list_price',
        operation: { op: 'start', value: posted.price! },
        currency: list.currency,
        per: 'pack',
        rule: ruleOf(list),
        facts: { posted: posted.from, posting: posted.posting },
      });
      return figure(undefined);
    }
    let why: Reason | null = null;
    if (this.unposted === 'compute' && list.recipe !== null) {
      const computed = runRecipe(ws, { item: item.id, pack: pack.id, list: list.id, day }, this.above, basisFrom);
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
        this.source = 'recipe';
        return figure(undefined);
      }
      why = computed.reason;
    }
    if (list.parent && list.unnamed !== 'not_sold') return this.fromParent(list.parent, why);
    if (why) return { ok: false, reason: why };
    return refusal('no_price_on_list', `lists/${list.id}`, { item: item.sku, list: list.name, day });
  }

  private fromParent(fall: NonNullable<PriceList['parent']>, why: Reason | null): Outcome<void> {
    const { ws, d, list, item, pack, day } = this;
    const found = find(ws, { item: item.id, pack: pack.id, list: fall.list, day }, this.unposted, [
      ...this.above,
      list.id,
    ]);
    if (!found.ok) return found;
    const parent = found.value;
    this.source = 'parent';
    d.continueFrom(parent.pricedSteps, parent.price);
    const factor = dec(1)
      .plus(share(dec(fall.percent ?? '0')))
      .times(fall.factor ?? '1');
    const facts: Record<string, string> = { 'falls back to': parent.list.name };
    if (why) facts['no price here'] = wording(why);
    const terms = shownTerms(ws, list, item, pack, day);
    if (!terms.ok) return terms;
    const alike =
      parent.list.currency === list.currency && terms.value.taxFactor.eq(parent.terms.taxFactor) && !fall.rate;
    if (alike && factor.eq(1)) {
      this.plus('fall_back', { op: 'plus', value: '0' }, facts);
      return figure(undefined);
    }
    takeOut(d, parent.terms, parent.list);
    if (fall.rate) this.plus('exchange', { op: 'times', value: fall.rate }, { 'typed rate': fall.rate });
    else {
      const exchanged = exchangeTo(ws, d, parent.list.currency, list, day, 'pack');
      if (!exchanged.ok) return exchanged;
    }
    this.plus(
      'fall_back',
      { op: 'times', value: plain(factor) },
      {
        ...facts,
        ...(fall.percent ? { 'per cent': fall.percent } : {}),
        ...(fall.factor ? { factor: fall.factor } : {}),
      },
    );
    putOn(d, terms.value, list, item, pack);
    const rounded = roundByLadder(ws, d, list, null);
    return rounded.ok ? figure(undefined) : rounded;
  }

  private plus(kind: Step['kind'], operation: Step['operation'], facts: Record<string, string>): void {
    this.d.add({ kind, operation, currency: this.list.currency, per: 'pack', rule: ruleOf(this.list), facts });
  }
}
