import { useState } from 'react';
import type { ListPrices, ToPost, WouldPost } from '#contract/lists.ts';
import { dec, plain } from '#core/numbers/decimal.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { Trouble } from '../kit/controls.tsx';
import { Change, Figure } from '../kit/figure.tsx';
import { countedIn } from '../kit/words.ts';
import { changeOf, marginOfRow } from './typed-price.ts';

type List = ListPrices['list'];
type Largest = WouldPost['largest'][number];

/** What is posted in place of the computed price: what was typed, or what the recipe makes where a typed price is released. */
const insteadOf = ({ row, after }: Largest) => (after === row.proposed ? undefined : after);

/** Whose prices are posted: one’s own are chosen beforehand, and nothing goes along with them. */
export function PostChoice({
  choices,
  what,
  onWhat,
}: {
  choices: WouldPost['choices'];
  what: ToPost['what'];
  onWhat: (what: ToPost['what']) => void;
}) {
  const { counted } = countedIn(useNumberForm());
  const all = choices.typed + choices.computed;
  const options: [ToPost['what'], string][] = [
    ['typed', `My ${counted(choices.typed, 'typed price')}`],
    ['computed', `${counted(choices.computed, 'price')} that the recipes propose`],
    ['changes', `Both, ${counted(all, 'price')}`],
  ];
  return (
    <fieldset className="mb-3 flex flex-wrap gap-x-6 gap-y-1">
      <legend className="pb-1 text-xs text-faint">What to post</legend>
      {options.map(([value, label]) => (
        <label key={value} className="flex items-baseline gap-2">
          <input type="radio" name="what" checked={what === value} onChange={() => onWhat(value)} />
          {label}
        </label>
      ))}
    </fieldset>
  );
}

/** Prices that whoever posts them has to mean, with the limit each lies beyond. */
export function Harmed({ list, harmed, hurts }: { list: List; harmed: WouldPost['harmed']; hurts: readonly string[] }) {
  const limits = {
    below_cost: 'landed cost',
    below_guards: 'floor of the recipe',
    above_guards: 'ceiling of the recipe',
    under_map: 'MAP',
    above_rrp: 'RRP',
    beyond: '',
  } as const;
  return (
    <>
      <Trouble tone="warn">{hurts.join(' · ')}.</Trouble>
      {harmed.length > 0 ? (
        <table className="ruled mb-3 w-full">
          <thead>
            <tr>
              <th>SKU</th>
              <th>Item</th>
              <th className="figure">will be</th>
              <th className="figure">limit</th>
              <th>what limits it</th>
            </tr>
          </thead>
          <tbody>
            {harmed.map((h) => (
              <tr key={`${h.sku} ${h.packName}`}>
                <td className="whitespace-nowrap">{h.sku}</td>
                <td>
                  {h.name}, {h.packName}
                </td>
                <td className="figure bg-proposed">
                  <Figure value={h.after} places={list.decimals} />
                </td>
                <td className="figure">
                  <Figure value={h.at} places={list.decimals} />
                </td>
                <td>{limits[h.harm]}, as the list shows prices</td>
              </tr>
            ))}
          </tbody>
        </table>
      ) : null}
    </>
  );
}

/** The widest moves, by per cent or by money. */
export function LargestMoves({ list, would }: { list: List; would: WouldPost | undefined }) {
  const [by, setBy] = useState<'largest' | 'largestMoney'>('largest');
  const { currency, decimals } = list;
  return (
    <table className="ruled w-full">
      <caption className="pb-1 text-left text-xs text-faint">
        The largest moves{' '}
        {(
          [
            ['largest', 'in per cent'],
            ['largestMoney', `in ${currency}`],
          ] as const
        ).map(([value, label]) => (
          <label key={value} className="ml-3 inline-flex items-baseline gap-1">
            <input type="radio" name="by" checked={by === value} onChange={() => setBy(value)} />
            {label}
          </label>
        ))}
      </caption>
      <thead>
        <tr>
          <th>SKU</th>
          <th>Item</th>
          <th className="figure">posted</th>
          <th className="figure">will be</th>
          <th className="figure">change, %</th>
          <th className="figure">change, {currency}</th>
          <th className="figure">margin before, %</th>
          <th className="figure">after, %</th>
        </tr>
      </thead>
      <tbody>
        {(would?.[by] ?? []).map((l) => (
          <tr key={`${l.row.item}-${l.row.pack}`}>
            <td className="whitespace-nowrap">{l.row.sku}</td>
            <td>
              {l.row.name}, {l.row.packName}
              {l.typed ? ' (typed)' : ''}
            </td>
            <td className="figure">
              <Figure value={l.row.posted} places={decimals} />
            </td>
            <td className="figure bg-proposed">
              <Figure value={l.after} places={decimals} />
            </td>
            <td className="figure">
              <Change value={changeOf(l.row, insteadOf(l))} />
            </td>
            <td className="figure">
              <Figure value={l.row.posted && plain(dec(l.after).minus(l.row.posted))} places={decimals} />
            </td>
            <td className="figure">
              <Figure value={l.row.marginBefore} places={2} />
            </td>
            <td className="figure">
              <Figure value={marginOfRow(l.row, insteadOf(l))} places={2} />
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
