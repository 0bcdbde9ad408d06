import { useDeferredValue } from 'react';
import { Link, useParams } from 'react-router';
import { type AskedThen, type ComparedDays, DAYS_PAGE, DAY_SHOWS, type DayDifference } from '#contract/compare-days.ts';
import { problemOf } from '../api.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { Empty, Field, Input, Trouble, ViewHead } from '../kit/controls.tsx';
import { DateField } from '../kit/date-field.tsx';
import { Change, Figure } from '../kit/figure.tsx';
import { show, showDay } from '../kit/number-form.ts';
import { Pages, pageAt, useAsked } from '../kit/pages.tsx';
import { useSignedIn } from '../people/use-me.ts';
import { listsApi } from './endpoints.ts';

const LINK = 'text-accent underline underline-offset-2';
type Shows = (typeof DAY_SHOWS)[number];
const TITLES: Readonly<Record<Shows, string>> = {
  all: 'differ',
  up: 'up',
  down: 'down',
  new: 'asked since',
  gone: 'asked no more',
};
const SOURCES: Readonly<Record<NonNullable<AskedThen['source']>, string>> = {
  entry: 'an entry',
  posted: 'posted',
  recipe: 'its recipe',
  parent: 'another list',
};

const dayBefore = (day: string, days: number): string =>
  new Date(Date.parse(`${day}T00:00:00Z`) - days * 86_400_000).toISOString().slice(0, 10);

/** What a list asks on two days, each with the rules and prices of then: the prices that differ. */
export function CompareDays() {
  const id = useParams()['id']!;
  const { today } = useSignedIn().workspace;
  const [params, set] = useAsked();
  const to = params.get('to') ?? today;
  const from = params.get('from') ?? dayBefore(today, 30);
  const shows = (DAY_SHOWS.find((s) => s === params.get('show')) ?? 'all') satisfies Shows;
  const find = params.get('find') ?? '';
  const at = pageAt(params);
  const asked = useDeferredValue(find);
  const { data, currentData, error, isFetching } = listsApi.useCompareDaysQuery({
    list: id,
    from,
    to,
    shows,
    find: asked,
    at,
  });
  const of = data?.list.id === id ? data : undefined;
  return (
    <>
      <ViewHead
        title={of ? `${of.list.name}, two days` : 'Two days of a list'}
        about={
          <>
            What it asks of whoever comes, on each day with the rules and prices of then ·{' '}
            <Link className={LINK} to={`/lists/${id}`}>
              the list
            </Link>
          </>
        }
      />
      <div className="min-h-0 flex-1 overflow-auto px-5 py-3">
        <div className="flex flex-wrap items-end gap-x-5 gap-y-2">
          <Field label="The one day" group>
            <DateField label="The one day" value={from} onValue={(day) => set({ from: day })} />
          </Field>
          <Field label="The other" group>
            <DateField label="The other" value={to} onValue={(day) => set({ to: day === today ? null : day })} />
          </Field>
          <Field label="Only those with">
            <Input
              type="search"
              name="find"
              value={find}
              placeholder="code or name"
              onChange={(e) => set({ find: e.target.value })}
            />
          </Field>
        </div>
        {error ? (
          <div className="mt-3">
            <Trouble>{problemOf(error).message}</Trouble>
          </div>
        ) : null}
        {!of && !error ? (
          <p className="py-4 text-faint" role="status">
            Comparing the two days …
          </p>
        ) : null}
        {of && !error ? (
          <div aria-busy={isFetching || !currentData}>
            <Shown counts={of.counts} shows={shows} onShows={(s) => set({ show: s === 'all' ? null : s })} />
            {of.count === 0 ? (
              <Empty>
                {find ? 'None of those that differ is found by these words.' : 'No price is another on these two days.'}
              </Empty>
            ) : (
              <Differences of={of} />
            )}
            <Pages at={at} rows={of.rows.length} count={of.count} page={DAYS_PAGE} onAt={(to) => set({ at: to })} />
          </div>
        ) : null}
      </div>
    </>
  );
}

function Shown({
  counts,
  shows,
  onShows,
}: {
  counts: ComparedDays['counts'];
  shows: Shows;
  onShows: (shows: Shows) => void;
}) {
  const form = useNumberForm();
  const { same, ...differ } = counts;
  const all = Object.values(differ).reduce((sum, n) => sum + n, 0);
  return (
    <div role="group" aria-label="Which prices" className="mt-3 flex flex-wrap items-center gap-1 border-b border-rule">
      {DAY_SHOWS.map((s) => {
        const n = s === 'all' ? all : counts[s];
        return (
          <button
            key={s}
            type="button"
            aria-pressed={s === shows}
            disabled={n === 0 && s !== shows}
            onClick={() => onShows(s)}
            className={`border-b-2 px-2 py-1 disabled:text-faint ${s === shows ? 'border-accent font-medium' : 'border-transparent'}`}
          >
            <span className="figure">{show(String(n), form)}</span> {TITLES[s]}
          </button>
        );
      })}
      <span className="ml-3 text-faint">
        <span className="figure">{show(String(same), form)}</span> the same
      </span>
    </div>
  );
}

function Differences({ of }: { of: ComparedDays }) {
  const form = useNumberForm();
  const { list, from, to, rows } = of;
  const cells = (d: DayDifference, then: AskedThen, day: string) => (
    <>
      <td className="figure border-l border-rule">
        {then.price === null ? (
          ''
        ) : (
          <Link className="hover:underline" to={`/lists/${list.id}?day=${day}&at=${d.item}-${d.pack}`} title="why">
            <Figure value={then.price} places={list.decimals} />
          </Link>
        )}
      </td>
      <td className="text-xs text-faint">{then.source ? SOURCES[then.source] : 'not asked'}</td>
    </>
  );
  return (
    <table className="ruled w-full max-w-6xl">
      <thead>
        <tr>
          <th>SKU</th>
          <th>Item</th>
          <th>Pack</th>
          <th className="figure border-l border-rule">
            {showDay(from, form)}, {list.currency}
          </th>
          <th>from</th>
          <th className="figure border-l border-rule">
            {showDay(to, form)}, {list.currency}
          </th>
          <th>from</th>
          <th className="figure border-l border-rule">change, %</th>
        </tr>
      </thead>
      <tbody>
        {rows.map((d) => (
          <tr key={`${d.item}/${d.pack}`}>
            <td className="whitespace-nowrap">
              <Link className={LINK} to={`/items/${d.item}`}>
                {d.sku}
              </Link>
            </td>
            <td>{d.name}</td>
            <td>{d.packName}</td>
            {cells(d, d.before, from)}
            {cells(d, d.after, to)}
            <td className="figure border-l border-rule">
              {d.changePercent === null ? '' : <Change value={d.changePercent} />}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
