import type { NamedItem } from '#contract/items.ts';
import { type QuoteBody, type QuoteFigures, type ShownCharge, totalBeforeDiscount } from '#contract/quotes.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { Input } from '../kit/controls.tsx';
import { CellSelect } from '../kit/select.tsx';
import { Figure } from '../kit/figure.tsx';
import { type NumberForm, show } from '../kit/number-form.ts';
import { NumberInput } from '../kit/number-input.tsx';
import { sectionsOf } from './body.ts';
import { LineWords, hasWords } from './line-words.tsx';
import { useSignedIn } from '../people/use-me.ts';
import { ItemConnection } from '../costs/item-connection.tsx';

type Line = QuoteBody['lines'][number];
const REDUCTIONS = [
  ['', 'none'],
  ['percent_off', '% off'],
  ['amount_off', 'amount off'],
  ['price', 'price'],
] as const;

export function QuoteLines<L extends Line>({
  lines,
  figures,
  items,
  editable,
  stale,
  at,
  onAt,
  onLines,
  parts,
  charge = null,
  onCharge,
}: {
  lines: readonly L[];
  figures: QuoteFigures | undefined;
  items: ReadonlyMap<string, NamedItem>;
  editable: boolean;
  stale: boolean;
  at: number | null;
  onAt: (at: number | null) => void;
  onLines: (lines: L[]) => void;
  /** Whether it says which part of the quote a line stands in. */
  parts: boolean;
  /** The charge whose build-up is open, by id. */
  charge?: string | null;
  onCharge?: (id: string | null) => void;
}) {
  const cost = useSignedIn().rights.has('see_cost');
  const change = (n: number, more: Partial<Line>) => onLines(lines.map((l, i) => (i === n ? { ...l, ...more } : l)));
  const sections = sectionsOf([...lines]);
  if (lines.length === 0) return <p className="py-3 text-faint">No lines yet.</p>;
  return (
    <table className={`ruled w-full [&_td]:!px-1.5 [&_th]:!px-1.5 ${stale ? 'opacity-60' : ''}`} aria-busy={stale}>
      <thead>
        <tr>
          <th></th>
          <th>Item</th>
          {parts ? <th>Part</th> : null}
          <th>Pack</th>
          <th className="figure">Quantity</th>
          <th className="figure">list, {figures?.currency}</th>
          <th>Reduced by hand</th>
          <th className="figure">each, {figures?.currency}</th>
          <th className="figure">total, {figures?.currency}</th>
          {cost ? <th className="figure">margin, %</th> : null}
          <th></th>
        </tr>
      </thead>
      <tbody>
        {lines.map((line, n) => {
          const item = items.get(line.item);
          const f = figures?.lines[n];
          return [
            <LineRow
              key={n}
              n={n}
              line={line}
              item={item}
              figures={f}
              decimals={figures?.decimals ?? 2}
              editable={editable}
              parts={parts}
              open={at === n}
              change={(more) => change(n, more)}
              onOpen={() => onAt(at === n ? null : n)}
              onAway={() => (onAt(null), onLines(lines.filter((_, i) => i !== n)))}
            />,
            ...(f && (hasWords(f) || at === n)
              ? [
                  <tr key={`${n}w`}>
                    <td></td>
                    <td colSpan={parts ? 10 : 9} className="text-xs">
                      <LineWords line={f} currency={figures!.currency} />
                      {at === n && item?.supplier ? (
                        <div className="text-faint">
                          Service of {item.supplierName}: <ItemConnection item={line.item} />
                        </div>
                      ) : null}
                    </td>
                  </tr>,
                ]
              : []),
          ];
        })}
        {figures?.charges.map((c) => (
          <ChargeRow
            key={c.id}
            charge={c}
            currency={figures.currency}
            parts={parts}
            open={charge === c.id}
            onOpen={onCharge ? () => onCharge(charge === c.id ? null : c.id) : null}
          />
        ))}
      </tbody>
      {parts ? (
        <caption className="hidden">
          <datalist id="quote-parts">
            {sections.map((s) => (
              <option key={s} value={s} />
            ))}
          </datalist>
        </caption>
      ) : null}
    </table>
  );
}

/** A line as it is written: pack, quantity, what is taken off by hand, and what comes of it. */
function LineRow({
  n,
  line,
  item,
  figures: f,
  decimals,
  editable,
  parts,
  open,
  change,
  onOpen,
  onAway,
}: {
  /** Its place, counted from 0. */
  n: number;
  line: Line;
  item: NamedItem | undefined;
  figures: QuoteFigures['lines'][number] | undefined;
  /** Of unit prices of the list. */
  decimals: number;
  editable: boolean;
  parts: boolean;
  /** Its build-up is shown. */
  open: boolean;
  change: (more: Partial<Line>) => void;
  onOpen: () => void;
  onAway: () => void;
}) {
  const cost = useSignedIn().rights.has('see_cost');
  const broken = f?.broken;
  return (
    <tr className={open ? 'bg-chosen' : ''}>
      <td>
        <button
          type="button"
          aria-label={`Why: build-up of line ${n + 1}`}
          aria-pressed={open}
          onClick={onOpen}
          className="figure text-accent underline"
        >
          {n + 1}
        </button>
      </td>
      <td className="min-w-40">
        {item?.name ?? f?.name}
        <div className="text-xs text-faint">{item?.sku ?? f?.sku}</div>
      </td>
      {parts ? (
        <td>
          {editable ? (
            <Input
              aria-label={`Part of the quote, line ${n + 1}`}
              list="quote-parts"
              className="w-24"
              value={line.section ?? ''}
              onChange={(e) => change({ section: e.target.value || null })}
            />
          ) : (
            line.section
          )}
        </td>
      ) : null}
      <td>
        {editable && item ? (
          <CellSelect
            aria-label={`Pack, line ${n + 1}`}
            className="w-20"
            value={line.pack}
            onValue={(chosen) => change({ pack: chosen })}
            options={item.packs.map((p) => [p.id, p.name] as const)}
          />
        ) : (
          f?.packName
        )}
      </td>
      <td className="figure">
        {editable ? (
          <NumberInput
            name={`quantity-${n}`}
            aria-label={`Quantity, line ${n + 1}`}
            className="w-16"
            value={line.quantity}
            onValue={(quantity) => change({ quantity })}
          />
        ) : (
          <Figure value={line.quantity} places={0} />
        )}
      </td>
      <td className="figure">
        <Figure value={f?.listPrice} places={decimals} />
      </td>
      <td className="whitespace-nowrap">
        {editable ? (
          <>
            <CellSelect
              aria-label={`Reduction, line ${n + 1}`}
              className="w-[4.75rem]"
              value={line.reductionKind ?? ''}
              onValue={(chosen) =>
                change(
                  chosen === ''
                    ? { reductionKind: null, reductionValue: null }
                    : { reductionKind: chosen as 'price', reductionValue: line.reductionValue ?? '0' },
                )
              }
              options={REDUCTIONS}
            />
            {line.reductionKind ? (
              <NumberInput
                aria-label={`Reduction value, line ${n + 1}`}
                className="ml-1 w-14"
                value={line.reductionValue ?? ''}
                onValue={(reductionValue) => change({ reductionValue })}
              />
            ) : null}
          </>
        ) : line.reductionKind ? (
          `${line.reductionValue} ${REDUCTIONS.find(([k]) => k === line.reductionKind)?.[1]}`
        ) : (
          ''
        )}
      </td>
      <td className={`figure ${broken ? (broken.outcome === 'lift' ? 'bg-warn-ground' : 'bg-stop-ground') : ''}`}>
        {f && f.slices.length > 1 ? <span className="text-xs text-faint">on average </span> : null}
        <Figure value={f?.unitPrice} places={f && f.slices.length > 1 ? 4 : decimals} />
      </td>
      <td className="figure">
        <Figure value={f && totalBeforeDiscount(f)} places={2} final />
      </td>
      {cost ? (
        <td className="figure">
          <Figure value={f?.margin} places={2} />
        </td>
      ) : null}
      <td>
        {editable ? (
          <button
            type="button"
            aria-label={`Take line ${n + 1} away`}
            className="text-accent underline"
            onClick={onAway}
          >
            ×
          </button>
        ) : null}
      </td>
    </tr>
  );
}

/** A charge: a share of lines, or what a rule added. */
function ChargeRow({
  charge: c,
  currency,
  parts,
  open,
  onOpen,
}: {
  charge: ShownCharge;
  currency: string;
  parts: boolean;
  open: boolean;
  /** Null: its build-up cannot be shown here. */
  onOpen: (() => void) | null;
}) {
  const form = useNumberForm();
  const cost = useSignedIn().rights.has('see_cost');
  return (
    <tr className={open ? 'bg-chosen' : ''}>
      <td>
        {onOpen && c.steps.length > 0 ? (
          <button
            type="button"
            aria-label={`Why: build-up of the charge ${c.name}`}
            aria-pressed={open}
            onClick={onOpen}
            className="text-accent underline"
          >
            ?
          </button>
        ) : null}
      </td>
      <td colSpan={parts ? 7 : 6}>
        {c.name} <span className="text-xs text-faint">{chargeWords(c, currency, form)}</span>
      </td>
      <td className="figure">
        <Figure value={c.total} places={2} final />
      </td>
      {cost ? <td></td> : null}
      <td></td>
    </tr>
  );
}

/** "8 % of 1 240.00, at least 25; for 3 months; tax 20 %". */
function chargeWords({ terms, covered, period, taxPercent }: ShownCharge, currency: string, form: NumberForm): string {
  const said = (t: string | null | undefined) => show(t ?? '', form);
  const words = terms
    ? [
        `${said(terms.percent)} % of ${said(covered)} ${currency}${terms.sections.length > 0 ? ` (${terms.sections.join(', ')})` : ''}`,
        ...(terms.least ? [`at least ${show(terms.least, form, 2)}`] : []),
        ...(terms.most ? [`at most ${show(terms.most, form, 2)}`] : []),
        ...(period ? [`for ${said(terms.periods ?? '1')} ${period}${terms.periods === '1' ? '' : 's'}`] : []),
      ]
    : ['added by a rule'];
  return [...words, `tax ${said(taxPercent)} %`].join(' · ');
}
