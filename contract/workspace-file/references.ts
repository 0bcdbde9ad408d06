import { LANDED_PARTS, landedTermsTwice } from '#core/costs/landed-terms.ts';
import { dec, plain } from '#core/numbers/decimal.ts';
import type { Condition } from '#core/quotes/rules/rule.ts';
import type { Workspace } from '#core/workspace/workspace.ts';
import type { Fields, PointedTo } from '../records/declare.ts';
import { ITEM_FIELDS } from '../records/item.ts';
import { KINDS, MEMBERS, kindNamed } from '../records/kinds.ts';
import { placedLinks } from '../records/links.ts';
import { PLAIN } from '../records/plain.ts';
import type { PlainKind } from '../records/plain-kind.ts';
import { RECIPE_FIELDS } from '../records/recipe-fields.ts';
import { type FileFault, shortJson } from './read-file.ts';

const ONE: Record<PointedTo, string> = {
  items: 'item',
  suppliers: 'supplier',
  categories: 'category',
  ladders: 'ladder',
  recipes: 'recipe',
  lists: 'price list',
  groups: 'customer group',
  customers: 'customer',
  regions: 'region',
  lockstep: 'lockstep group',
  pools: 'pool',
  charges: 'proportional charge',
};

/** What a workspace of the right shape still gets wrong: ids twice, references to nothing, values that do not go together; `under`: only there. */
export function referenceFaults(w: Workspace, under = '$'): FileFault[] {
  const faults = new References(w, under).find();
  return faults
    .filter((f) => f.path === under || f.path.startsWith(`${under}.`) || f.path.startsWith(`${under}[`))
    .slice(0, 20);
}

const { list: _, ...ENTRY } = kindNamed('entries')!.fields;

class References {
  private readonly faults: FileFault[] = [];
  private readonly ids = new Map<PointedTo, Set<string>>();
  private readonly packs = new Map<string, Set<string>>();

  constructor(
    private readonly w: Workspace,
    private readonly under: string,
  ) {
    for (const name of Object.keys(ONE) as PointedTo[]) this.ids.set(name, new Set(w[name].map((row) => row.id)));
    for (const item of w.items) this.packs.set(item.id, new Set(item.packs.map((p) => p.id)));
  }

  find(): FileFault[] {
    const { w } = this;
    for (const [name, collection] of Object.entries(w))
      if (Array.isArray(collection)) this.unique(`$.${name}`, collection);
    this.declared(ITEM_FIELDS, w.items, '$.items');
    w.items.forEach((item, i) => {
      const at = `$.items[${i}]`;
      this.unique(`${at}.packs`, item.packs);
      item.order?.for?.forEach((l, n) => this.oneBuyer(l, `${at}.order.for[${n}]`));
    });
    w.costs.forEach((c, i) => {
      this.refers('items', c.item, `$.costs[${i}].item`);
      this.refers('suppliers', c.supplier, `$.costs[${i}].supplier`);
    });
    for (const { name, fields } of KINDS)
      if ((MEMBERS as readonly string[]).includes(name))
        this.declared(fields, (w as unknown as Record<string, readonly object[]>)[name]!, `$.${name}`);
    for (const { member, fields } of Object.values(PLAIN) as PlainKind[])
      if (member && member !== 'lists')
        this.declared(fields, (w as unknown as Record<string, readonly object[]>)[member]!, `$.${member}`);
    w.landed.forEach((t, i) => {
      if (LANDED_PARTS.every((part) => t[part] === null || t[part] === undefined))
        this.say(`$.landed[${i}].freight`, null, 'freight, duty, handling, overhead or a fee: these terms say nothing');
    });
    for (const [first, second] of landedTermsTwice(w.landed))
      for (const t of [first, second])
        this.say(`$.landed[${w.landed.indexOf(t)}].from`, t.from, 'another day: terms for the same goods begin on it');
    this.declared(RECIPE_FIELDS, w.recipes, '$.recipes');
    w.recipes.forEach((r, i) => {
      const at = `$.recipes[${i}]`;
      r.ladders?.forEach((t, n) => this.tied(t, `${at}.ladders[${n}]`));
      this.unique(`${at}.addOns`, r.addOns ?? []);
      if (r.basis.kind === 'list' && !r.basis.list) this.say(`${at}.basis.list`, null, 'the id of a price list');
      this.unique(`${at}.uplift`, r.uplift);
      r.addOns?.forEach((a, n) => {
        const byWeight = a.kind === 'by_weight';
        if (byWeight && !a.bands?.length) this.say(`${at}.addOns[${n}].bands`, a.bands, 'a list of weight bands');
        if (!byWeight && (a.value === null || a.value === undefined))
          this.say(`${at}.addOns[${n}].value`, a.value, 'an exact decimal as text');
      });
    });
    w.ladders.forEach((l, i) =>
      l.rungs.forEach((r, n) => {
        if (r.direction === 'cuts' && (!r.downUntil || !r.upFrom))
          this.say(`$.ladders[${i}].rungs[${n}]`, r, '"downUntil" and "upFrom" for two cuts');
        const outside = r.endings.findIndex((e) => dec(e).gte(r.step));
        if (outside >= 0)
          this.say(
            `$.ladders[${i}].rungs[${n}].endings[${outside}]`,
            r.endings[outside],
            `an ending less than the step of ${r.step}`,
          );
      }),
    );
    this.lists();
    [...w.posted].forEach((p, i) => {
      this.refers('lists', p.list, `$.posted[${i}].list`);
      this.refers('items', p.item, `$.posted[${i}].item`);
      if (this.packs.has(p.item) && !this.packs.get(p.item)!.has(p.pack))
        this.say(`$.posted[${i}].pack`, p.pack, `the id of a pack of the item ${p.item}`);
    });
    this.quotes();
    return this.faults;
  }

  /** What declared records point to. */
  private declared(fields: Fields, rows: readonly object[], at: string): void {
    rows.forEach((row, i) => {
      const place = `${at}[${i}]`;
      // what is wrong elsewhere would be left out anyway
      if (!place.startsWith(this.under) && !this.under.startsWith(place)) return;
      for (const { to, id, path } of placedLinks(fields, row as Record<string, unknown>, place))
        this.refers(to, id, path);
    });
  }

  private lists(): void {
    this.declared(PLAIN.lists.fields, this.w.lists, '$.lists');
    this.w.lists.forEach((l, i) => {
      const at = `$.lists[${i}]`;
      l.ladders?.forEach((t, n) => this.tied(t, `${at}.ladders[${n}]`));
      l.recipes?.forEach((t, n) => this.tied(t, `${at}.recipes[${n}]`));
      this.declared(ENTRY, l.entries ?? [], `${at}.entries`);
      this.unique(`${at}.entries`, l.entries ?? []);
      l.entries?.forEach((e, n) => {
        this.change(e, `${at}.entries[${n}]`);
        if (e.onTop && (e.ladder || e.least || e.most))
          this.say(`${at}.entries[${n}].onTop`, true, 'no ladder, least or most of its own: what is on top has none');
        for (const limit of ['least', 'most'] as const) {
          const l = e[limit];
          if (l && Boolean(l.amount) === Boolean(l.percent))
            this.say(`${at}.entries[${n}].${limit}`, l, 'either an "amount" or "percent"');
        }
      });
    });
  }

  private tied(t: { item?: string | null; category?: string | null; pack?: string | null }, at: string): void {
    if (!t.item && !t.category && !t.pack) this.say(at, t, 'what it is tied to: an item, a category or a pack');
  }

  private oneBuyer(of: { customer?: string | null; group?: string | null }, at: string): void {
    if (Boolean(of.customer) === Boolean(of.group))
      this.say(at, { customer: of.customer, group: of.group }, 'either a "customer" or a "group"');
  }

  private quotes(): void {
    const { w } = this;
    w.breaks.forEach((t, i) => {
      const at = `$.breaks[${i}]`;
      if (t.count === 'pool' && !t.pool) this.say(`${at}.pool`, t.pool, 'the id of a pool');
      const together = t.count === 'pool' || t.count === 'section' || (t.measure ?? 'units') !== 'units';
      if (t.neverMoreThanNext && (t.way !== 'whole' || together))
        this.say(
          `${at}.neverMoreThanNext`,
          true,
          'whole breaks of units counted by line or item for "never more than the next break"',
        );
      const onTop = t.rows.findIndex((r) => r.kind === 'price');
      if (t.onTop && onTop >= 0)
        this.say(`${at}.rows[${onTop}].kind`, 'price', 'a reduction: a price cannot go on top');
      this.twice(
        `${at}.rows`,
        t.rows.map((r) => plain(dec(r.from))),
      );
    });
    const followers = new Set<string>();
    w.lockstep.forEach((g, i) => {
      for (const id of [g.lead, ...g.members]) {
        if (followers.has(id)) this.say(`$.lockstep[${i}]`, id, 'an item in one lockstep group only');
        followers.add(id);
      }
    });
    w.reductions.forEach((r, i) => {
      const at = `$.reductions[${i}]`;
      this.oneBuyer(r, at);
      this.change(r, at);
    });
    w.rules.forEach((set, i) => {
      this.unique(`$.rules[${i}].rules`, set.rules);
      set.rules.forEach((rule, n) => this.condition(rule.when, `$.rules[${i}].rules[${n}].when`));
    });
    w.charges.forEach((c, i) => {
      const own = c.coversCharges?.indexOf(c.id) ?? -1;
      if (own >= 0) this.say(`$.charges[${i}].coversCharges[${own}]`, c.id, 'another charge: none covers itself');
    });
  }

  private condition(c: Condition | null | undefined, at: string): void {
    if (!c) return;
    for (const word of ['all', 'any', 'none'] as const) {
      if (word in c)
        (c as unknown as Record<string, Condition[]>)[word]!.forEach((inner, i) =>
          this.condition(inner, `${at}.${word}[${i}]`),
        );
    }
    if (!('fact' in c)) return;
    if (c.operator === 'one_of' && !c.values?.length)
      this.say(`${at}.values`, c.values, 'a list of at least one value');
    const valueless = ['one_of', 'is_empty', 'from_up_to'].includes(c.operator);
    if (!valueless && (c.value === null || c.value === undefined)) this.say(`${at}.value`, c.value, 'a value as text');
    if (c.operator === 'from_up_to' && !c.from && !c.upTo) this.say(`${at}.from`, c.from, '"from", "upTo" or both');
  }

  private change(
    c: { kind: string; value: string; onTop?: boolean; from?: string | null; to?: string | null },
    at: string,
  ): void {
    if (c.onTop && c.kind === 'price') this.say(`${at}.onTop`, true, 'a reduction: a price cannot go on top');
    if (c.kind === 'percent_off' && dec(c.value).gt(100)) this.say(`${at}.value`, c.value, 'at most 100 per cent off');
    if (c.from && c.to && c.to < c.from) this.say(`${at}.to`, c.to, `a last day not before the first, ${c.from}`);
  }

  private refers(to: PointedTo, id: string | null | undefined, path: string): void {
    if (id !== null && id !== undefined && !this.ids.get(to)!.has(id))
      this.say(path, id, `the id of a known ${ONE[to]}`);
  }

  private unique(path: string, rows: readonly unknown[]): void {
    const ids = rows.map((row) => (row as { id?: string }).id);
    if (ids.every((id) => id !== undefined)) this.twice(path, ids, '.id');
  }

  private twice(path: string, keys: readonly string[], field = '.from'): void {
    const seen = new Set<string>();
    keys.forEach((key, i) => {
      if (seen.has(key)) this.say(`${path}[${i}]${field}`, key, 'a value that no other row of the list has');
      seen.add(key);
    });
  }

  private say(path: string, value: unknown, expected: string): void {
    this.faults.push({ path, value: shortJson(value), expected });
  }
}
