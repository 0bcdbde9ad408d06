import type { Column } from '../grid/columns.ts';
import { Change, Figure } from '../kit/figure.tsx';
import { type NumberForm, read, show, showDay } from '../kit/number-form.ts';
import type { AskedPrice, ListPriceRow } from '#contract/list-row.ts';
import { FLAG_TEXT } from '#contract/list-row.ts';

/** Which guards bit; a fall that waits says to what. */
const bitWords = (r: ListPriceRow, fall: string): string =>
  r.wouldFallTo === null ? r.bit.join(', ') : `${r.bit.join(', ')}: would fall to ${fall}`;

/** "entry until 19.12.2026, else 3.40", "inherited from Counter". */
export function sourceWords(r: AskedPrice, form: NumberForm): string {
  const base = {
    entry: 'entry of this list',
    posted: 'posted',
    recipe: 'its recipe',
    parent: 'inherited',
  };
  if (r.source === null) return '';
  const words = [base[r.source]];
  if (r.from) words.push(r.source === 'parent' ? ` from ${r.from}` : `, as ${r.from}`);
  const from = r.dated?.from ? ` from ${showDay(r.dated.from, form)}` : '';
  const to = r.dated?.to ? ` until ${showDay(r.dated.to, form)}` : '';
  if (r.dated) words.push(`${from}${to}`);
  if (r.usual) words.push(`, else ${show(r.usual, form)}`);
  return words.join('');
}

/** The columns of a list's prices: what is posted, computed and asked, and what led there. `ending`: some are posted until a day. */
export function priceColumns(
  { currency, decimals, priced, ending }: { currency: string; decimals: number; priced: boolean; ending: boolean },
  form: NumberForm,
  cost: boolean,
  editable: boolean,
): Column<ListPriceRow>[] {
  const figure = (
    id: 'posted' | 'cost' | 'marginBefore' | 'marginAfter',
    title: string,
    places: number,
    width: number,
    more: Partial<Column<ListPriceRow>> = {},
  ): Column<ListPriceRow> => ({
    id,
    title,
    width,
    align: 'end',
    numeric: true,
    value: (r) => r[id] ?? '',
    copied: (v) => (v === '' ? '' : show(v, form)),
    draw: (_, v) => (v === '' ? '' : <Figure value={v} places={places} />),
    ...more,
  });
  const head: Column<ListPriceRow>[] = [
    { id: 'sku', title: 'SKU', width: 112, frozen: 'start', value: (r) => r.sku },
    { id: 'name', title: 'Item', width: 205, frozen: 'start', value: (r) => r.name },
    { id: 'pack', title: 'Pack', width: 62, frozen: 'start', value: (r) => r.packName },
    { id: 'category', title: 'Category', width: 130, hidden: true, value: (r) => r.category },
  ];
  const posted = figure('posted', `posted, ${currency}`, decimals, 108, {
    draw: (_, v) =>
      v === '' ? <span className="text-xs text-faint">none</span> : <Figure value={v} places={decimals} final />,
  });
  const from: Column<ListPriceRow> = {
    id: 'from',
    title: 'from',
    width: 98,
    value: (r) => r.postedFrom ?? '',
    draw: (r) => (r.postedFrom ? showDay(r.postedFrom, form) : ''),
  };
  const until: Column<ListPriceRow>[] = ending
    ? [
        {
          id: 'until',
          title: 'until',
          width: 98,
          value: (r) => r.lastDay ?? '',
          draw: (r) => (r.lastDay ? showDay(r.lastDay, form) : ''),
        },
      ]
    : [];
  const hand: Column<ListPriceRow> = {
    id: 'handSet',
    title: 'typed, why',
    width: 190,
    value: (r) => r.handSet ?? '',
    draw: (_, v) => (v === '' ? '' : <span className="border-l-2 border-accent pl-1.5">✎ {v}</span>),
  };
  const asks: Column<ListPriceRow> = {
    id: 'asks',
    title: `asked, ${currency}`,
    width: 108,
    align: 'end',
    numeric: true,
    value: (r) => r.asks ?? '',
    copied: (v) => (v === '' ? '' : show(v, form)),
    draw: (r, v) =>
      v === '' ? (
        <span className="text-xs text-faint">not sold</span>
      ) : (
        <Figure value={v} places={decimals} className={r.source === 'parent' ? 'text-faint' : ''} />
      ),
    tone: (r) => (r.dated ? 'proposed' : undefined),
  };
  const source: Column<ListPriceRow> = {
    id: 'source',
    title: 'where it is from',
    width: 190,
    value: (r) => sourceWords(r, form),
    draw: (r, v) => <span className={r.source === 'parent' ? 'text-faint' : ''}>{v}</span>,
  };
  if (!cost) return [...head, asks, source, posted, ...until, from];
  const proposed: Column<ListPriceRow> = {
    id: 'proposed',
    title: `${priced ? 'computed' : 'typed'}, ${currency}`,
    width: 118,
    align: 'end',
    numeric: true,
    value: (r) => r.proposed ?? '',
    typed: (v) => show(v, form),
    copied: (v) => (v === '' ? '' : show(v, form)),
    tone: (r) => (r.flag === 'floor_above_ceiling' || r.flag === 'no_ending_fits' ? 'stop' : 'proposed'),
    draw: (r, v) =>
      v === '' ? (
        <span className="text-xs text-stop" title={r.reason ?? ''}>
          {priced ? 'no price' : ''}
        </span>
      ) : (
        <Figure value={v} places={decimals} className={v !== (r.proposed ?? '') ? 'italic underline' : ''} />
      ),
    ...(editable
      ? {
          parse: (t: string) => {
            const found = read(t, form);
            if (!found.ok || found.value === '') return found;
            if (found.value.startsWith('-') || /^0(\.0*)?$/.test(found.value))
              return { ok: false as const, message: 'a price must be more than 0' };
            return (found.value.split('.')[1]?.length ?? 0) > decimals
              ? { ok: false as const, message: `the list keeps ${decimals} decimals` }
              : found;
          },
        }
      : {}),
  };
  // without a recipe a price is typed or inherited: there is nothing to compare it with
  if (!priced) return [...head, asks, source, posted, ...until, proposed, from, hand];
  return [
    ...head,
    posted,
    ...until,
    proposed,
    {
      id: 'change',
      title: 'change, %',
      width: 98,
      align: 'end',
      numeric: true,
      value: (r) => r.changePercent ?? '',
      draw: (_, v) => (v === '' ? '' : <Change value={v} />),
    },
    figure('marginBefore', 'posted, %', 2, 82, { group: 'margin' }),
    figure('marginAfter', 'computed, %', 2, 94, { group: 'margin' }),
    figure('cost', `landed, ${currency}`, 4, 104),
    {
      id: 'guard',
      title: 'guard that bit',
      width: 168,
      value: (r) => bitWords(r, r.wouldFallTo ?? ''),
      draw: (r) =>
        r.flag ? (
          <span title={FLAG_TEXT[r.flag]} className={r.flag === 'bit' ? 'text-warn' : 'text-stop'}>
            ▲ {bitWords(r, r.wouldFallTo ? show(r.wouldFallTo, form) : '')}
          </span>
        ) : (
          ''
        ),
      tone: (r) => (r.flag === null ? undefined : r.flag === 'bit' ? 'warn' : 'stop'),
    },
    { id: 'uplift', title: 'uplift', width: 110, value: (r) => r.uplift ?? '' },
    asks,
    source,
    from,
    hand,
    { id: 'reason', title: 'why no price', width: 260, value: (r) => r.reason ?? '' },
  ];
}
