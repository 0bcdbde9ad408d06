import { type SheetRow, figuresWords, flagsWords, itemWords, kindWords, widest } from '#contract/cost-rows.ts';
import { needsLook } from '#contract/costs.ts';
import type { Column } from '../grid/columns.ts';
import { Change, Figure } from '../kit/figure.tsx';
import { type NumberForm, show, showDay } from '../kit/number-form.ts';
import { writtenIn } from './written.ts';

/** The rows of a sheet: what is known, what the file says, what speaks against it, and which prices it would move. */
export function changeColumns(form: NumberForm): Column<SheetRow>[] {
  const as = writtenIn(form);
  const cost = (id: 'before' | 'after', title: string): Column<SheetRow>[] => [
    {
      id: `${id}Cost`,
      title: 'cost',
      group: title,
      width: 106,
      align: 'end',
      numeric: true,
      value: (c) => c[id]?.amount ?? '',
      draw: (c) =>
        c[id] ? (
          <>
            <Figure value={c[id].amount} places={2} />
            {c[id].quantityPrices?.length ? (
              <span
                className="text-faint"
                title={c[id].quantityPrices
                  .map((q) => `from ${show(q.from, form)} at once ${show(q.cost, form)}`)
                  .join('; ')}
              >
                {' '}
                +{c[id].quantityPrices.length}
              </span>
            ) : null}
            {c[id].reduced ? <span title={`reduced to ${show(c[id].reduced, form)}`}> ↓</span> : null}
          </>
        ) : (
          ''
        ),
    },
    {
      id: `${id}Currency`,
      title: 'in',
      width: 50,
      value: (c) => c[id]?.currency ?? '',
      tone: (c) => (id === 'after' && c.flags.includes('other_currency') ? 'warn' : undefined),
    },
    {
      id: `${id}Units`,
      title: 'for units',
      width: 70,
      align: 'end',
      numeric: true,
      value: (c) => c[id]?.packUnits ?? '',
      draw: (c) => (c[id] ? <Figure value={c[id].packUnits} places={0} /> : ''),
      tone: (c) => (id === 'after' && c.flags.includes('other_pack') ? 'warn' : undefined),
    },
  ];
  return [
    { id: 'row', title: 'Row', width: 70, align: 'end', numeric: true, frozen: 'start', value: (c) => String(c.row) },
    { id: 'code', title: 'Supplier’s code', width: 108, frozen: 'start', value: (c) => c.code },
    { id: 'name', title: 'Item', width: 196, frozen: 'start', value: itemWords },
    {
      id: 'kind',
      title: 'What it is',
      width: 100,
      value: kindWords,
      draw: (_, v) => <span title={v}>{v}</span>,
      tone: (c) => (c.held ? 'proposed' : undefined),
    },
    {
      id: 'change',
      title: 'per unit, %',
      width: 90,
      align: 'end',
      numeric: true,
      value: (c) => c.changePercent ?? '',
      draw: (c) => <Change value={c.changePercent} />,
    },
    ...cost('before', 'known'),
    ...cost('after', 'in the file'),
    {
      id: 'flags',
      title: 'Look at',
      width: 250,
      value: (c) => flagsWords(c, as),
      draw: (_, v) => <span title={v}>{v}</span>,
      tone: (c) => (needsLook(c) ? 'warn' : undefined),
    },
    {
      id: 'prices',
      title: 'prices',
      group: 'would move',
      width: 72,
      align: 'end',
      numeric: true,
      value: (c) => String(c.moves?.prices ?? ''),
    },
    {
      id: 'lists',
      title: 'lists',
      group: 'would move',
      width: 60,
      align: 'end',
      numeric: true,
      value: (c) => String(c.moves?.lists ?? ''),
    },
    {
      id: 'by',
      title: 'by, %',
      group: 'would move',
      width: 90,
      align: 'end',
      numeric: true,
      // the wider end speaks
      value: (c) => widest(c.moves),
      draw: (_, v) => (v === '' ? '' : <Change value={v} />),
    },
    { id: 'from', title: 'from', width: 98, value: (c) => c.after.from, draw: (c) => showDay(c.after.from, form) },
    {
      id: 'to',
      title: 'until',
      width: 98,
      value: (c) => c.after.to ?? '',
      draw: (c) => (c.after.to ? showDay(c.after.to, form) : ''),
    },
    { id: 'figures', title: 'of the item itself', width: 220, value: (c) => figuresWords(c, as) },
  ];
}
