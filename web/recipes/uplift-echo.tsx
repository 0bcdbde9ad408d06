import { type Dec, dec, roundHalfUp } from '#core/numbers/decimal.ts';
import { marginFromMarkup, marginOf, markupFromMargin, markupOf } from '#core/recipes/markup.ts';
import type { UpliftMethod } from '#core/recipes/recipe.ts';
import { upliftOperation } from '#core/recipes/uplift.ts';
import { calculate } from '#core/buildup/steps.ts';
import type { Item } from '#core/items/item.ts';
import { wording } from '#core/reasons.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { type NumberForm, show } from '../kit/number-form.ts';

const SAMPLE = { id: '', sku: 'The sample' } as Item;
const isNumber = (t: string) => /^-?\d+(\.\d+)?$/.test(t);

/** What an uplift makes of a sample basis: the price, and markup and margin by name. */
export function sampleOf(
  method: UpliftMethod,
  value: string,
  sample: string,
): { price: Dec; markup: Dec | null; margin: Dec | null } | { why: string } {
  if (!isNumber(value) || !isNumber(sample)) return { why: '' };
  const cost = dec(sample);
  const operation = upliftOperation({ id: '', scope: {}, method, value }, cost, dec(1), SAMPLE, '');
  if (!operation.ok) return { why: wording(operation.reason) };
  const price = calculate(operation.value, cost);
  return {
    price,
    markup: markupOf(cost, price),
    margin: marginOf(cost, price),
  };
}

/** The other figure of a markup or a margin, on two decimals. */
export function answerTo(method: UpliftMethod, value: string): string | null {
  if (!isNumber(value)) return null;
  if (method === 'markup') return marginFromMarkup(dec(value))?.toDecimalPlaces(2).toFixed(2) ?? null;
  const found = markupFromMargin(dec(value));
  return found.ok ? roundHalfUp(found.value, 2).toFixed(2) : null;
}

/** The sample beside an uplift, and the share of cost and profit in the price, drawn. */
export function UpliftEcho({
  method,
  value,
  sample,
  currency,
  basis,
}: {
  method: UpliftMethod;
  value: string;
  sample: string;
  currency: string;
  basis: 'cost' | 'price';
}) {
  const form: NumberForm = useNumberForm();
  const found = sampleOf(method, value, sample);
  if ('why' in found) return <span className="text-xs text-stop">{found.why}</span>;
  const n = (d: Dec | null) => (d ? show(roundHalfUp(d, 2).toFixed(2), form) : '–');
  const margin = found.margin ? Math.max(0, Math.min(100, found.margin.toNumber())) : 0;
  return (
    <span className="flex flex-wrap items-center gap-x-2 text-xs">
      <span className="figure whitespace-nowrap">
        → <b>{n(found.price)}</b> {currency}
      </span>
      {basis === 'cost' ? (
        <span
          aria-hidden
          className="inline-flex h-2.5 w-14 border border-rule-strong"
          title="cost and profit in the price"
        >
          <span style={{ width: `${100 - margin}%` }} className="bg-rule-strong/40" />
          <span style={{ width: `${margin}%` }} className="bg-accent" />
        </span>
      ) : null}
      {basis === 'price' || method === 'markup' || method === 'margin' ? null : (
        <span className="text-faint">
          markup {n(found.markup)} %, margin {n(found.margin)} %
        </span>
      )}
    </span>
  );
}
