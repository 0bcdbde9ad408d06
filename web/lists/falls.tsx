import { useState } from 'react';
import { Link } from 'react-router';
import { toast } from 'sonner';
import type { Fall, Falls } from '#contract/falls.ts';
import { dec, plain } from '#core/numbers/decimal.ts';
import { problemOf } from '../api.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { Button, Empty, Field, Input, Trouble, ViewHead } from '../kit/controls.tsx';
import { DateField } from '../kit/date-field.tsx';
import { Change, Figure } from '../kit/figure.tsx';
import { show } from '../kit/number-form.ts';
import { countedIn } from '../kit/words.ts';
import { useSignedIn } from '../people/use-me.ts';
import { postedWords } from '../ledger/posted-words.ts';
import { listsApi } from './endpoints.ts';

const LINK = 'text-accent underline underline-offset-2';
const keyOf = (f: Fall) => `${f.list}/${f.item}/${f.pack}`;

/** Prices whose recipe makes less than is posted and may only raise by itself: they stay until somebody lets them fall. */
export function FallsView() {
  const { data: falls, error } = listsApi.useFallsQuery();
  return (
    <>
      <ViewHead
        title="Falls"
        about="Prices that a lower cost would bring down. Their recipe only raises: each stays as it is until it is let fall."
      />
      {error ? <Trouble>{problemOf(error).message}</Trouble> : null}
      {!falls && !error ? <p className="p-6 text-faint">Looking what would fall …</p> : null}
      {falls?.rows.length === 0 ? (
        <Empty>
          Nothing would fall. Recipes with the guard “raise only” bring here what a lower cost would make of their
          prices.
        </Empty>
      ) : null}
      {falls && falls.rows.length > 0 ? <FallsTable key={falls.revision} falls={falls} /> : null}
    </>
  );
}

function FallsTable({ falls }: { falls: Falls }) {
  const me = useSignedIn();
  const form = useNumberForm();
  const { counted } = countedIn(form);
  const [list, setList] = useState<string | null>(null);
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const [reason, setReason] = useState('costs fell');
  const [effective, setEffective] = useState(me.workspace.today);
  const [post, { isLoading }] = listsApi.useLetFallMutation();
  const [problem, setProblem] = useState<string | null>(null);
  const may = me.rights.has('post');
  const rows = falls.rows.filter((f) => list === null || f.list === list);
  const taken = falls.rows.filter((f) => chosen.has(keyOf(f)));
  const sum = (of: readonly Fall[]) => plain(of.reduce((all, f) => all.plus(f.money ?? 0), dec(0)));
  const nameOf = new Map(falls.lists.map((l) => [l.list, l]));
  const all = rows.length > 0 && rows.every((f) => chosen.has(keyOf(f)));
  const choose = (of: readonly Fall[], on: boolean) => {
    const next = new Set(chosen);
    for (const f of of) {
      if (on) next.add(keyOf(f));
      else next.delete(keyOf(f));
    }
    setChosen(next);
  };
  const letFall = async () => {
    setProblem(null);
    const prices = taken.map(({ list: of, item, pack, posted, to }) => ({
      list: of,
      item,
      pack,
      before: posted,
      after: to,
    }));
    try {
      const done = await post({ effective, reason, prices }).unwrap();
      setChosen(new Set());
      toast.success(
        done.request === null
          ? `${counted(done.lines, 'price')} let fall. It stands in the ledger and can be reversed.`
          : postedWords(done, `on ${counted(new Set(prices.map((p) => p.list)).size, 'list')}`, form),
      );
    } catch (error) {
      setProblem(problemOf(error).message);
    }
  };
  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <div className="flex flex-wrap items-center gap-x-1 border-b border-rule px-4">
        {[null, ...falls.lists.map((l) => l.list)].map((id) => {
          const of = id === null ? null : nameOf.get(id)!;
          const count = of ? of.prices : falls.lists.reduce((n, l) => n + l.prices, 0);
          return (
            <button
              key={id ?? 'all'}
              type="button"
              aria-pressed={list === id}
              onClick={() => setList(id)}
              className={`border-b-2 px-1.5 py-1 ${list === id ? 'border-accent font-medium' : 'border-transparent'}`}
            >
              {of ? of.name : 'all'} <span className="figure">{show(String(count), form)}</span>
              {of ? (
                <span className="text-faint">
                  {' '}
                  · <Figure value={of.money} places={2} />
                </span>
              ) : null}
            </button>
          );
        })}
      </div>
      {problem ? <Trouble>{problem}</Trouble> : null}
      <div className="min-h-0 flex-1 overflow-auto px-5 py-3">
        <table className="ruled w-full max-w-6xl">
          <thead>
            <tr>
              <th>
                {may ? (
                  <input
                    type="checkbox"
                    aria-label="all that are shown"
                    checked={all}
                    onChange={(e) => choose(rows, e.target.checked)}
                  />
                ) : null}
              </th>
              <th>Item</th>
              <th></th>
              <th>Pack</th>
              <th>Price list</th>
              <th className="figure">posted</th>
              <th className="figure">would fall to</th>
              <th className="figure">change</th>
              <th className="figure" title="per cent">
                margin
              </th>
              <th className="figure" title="per cent">
                then
              </th>
              <th className="figure" title={`packs on quotes accepted in the last ${falls.days} days`}>
                sold
              </th>
              <th className="figure" title="what those would have asked less">
                {falls.currency}
              </th>
            </tr>
          </thead>
          <tbody>
            {rows.map((f) => {
              const places = nameOf.get(f.list)?.decimals ?? 2;
              return (
                <tr key={keyOf(f)}>
                  <td>
                    {may ? (
                      <input
                        type="checkbox"
                        aria-label={`${f.sku}, ${f.packName}, ${nameOf.get(f.list)?.name ?? ''}`}
                        checked={chosen.has(keyOf(f))}
                        onChange={(e) => choose([f], e.target.checked)}
                      />
                    ) : null}
                  </td>
                  <td className="whitespace-nowrap">
                    <Link to={`/items/${f.item}`} className={LINK}>
                      {f.sku}
                    </Link>
                  </td>
                  <td className="max-w-52 truncate">{f.name}</td>
                  <td>{f.packName}</td>
                  <td>{nameOf.get(f.list)?.name}</td>
                  <td className="figure">
                    <Figure value={f.posted} places={places} />
                  </td>
                  <td className="figure bg-proposed">
                    <Figure value={f.to} places={places} />
                  </td>
                  <td className="figure">
                    <Change value={f.changePercent} unit=" %" />
                  </td>
                  <td className="figure">
                    <Figure value={f.marginNow} places={2} />
                  </td>
                  <td className="figure">
                    <Figure value={f.marginThen} places={2} />
                  </td>
                  <td className="figure">{f.sold === '0' ? '' : show(f.sold, form)}</td>
                  <td className="figure">{f.sold === '0' ? '' : <Figure value={f.money} places={2} />}</td>
                </tr>
              );
            })}
          </tbody>
        </table>
        <p className="mt-2 text-xs text-faint">
          What it means: what the packs on quotes accepted in the last {falls.days} days would have asked less.
        </p>
      </div>
      {may ? (
        <div className="flex flex-wrap items-end gap-x-5 gap-y-2 border-t border-rule px-5 py-3">
          <Field label="Because">
            <Input name="reason" className="w-64" value={reason} onChange={(e) => setReason(e.target.value)} />
          </Field>
          <Field label="From" group>
            <DateField name="effective" label="From" value={effective} onValue={setEffective} />
          </Field>
          <Button
            weight="main"
            disabled={taken.length === 0 || reason.trim() === '' || effective === '' || isLoading}
            onClick={() => void letFall()}
          >
            Let {counted(taken.length, 'price')} fall
          </Button>
          {taken.length > 0 ? (
            <span>
              <Figure value={sum(taken)} places={2} /> {falls.currency} in {falls.days} days
            </span>
          ) : null}
        </div>
      ) : null}
    </div>
  );
}
