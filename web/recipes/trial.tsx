import { useState } from 'react';
import { type RecipeBody, recipeBody } from '#contract/recipes.ts';
import { MOVE_EDGES } from '#core/bulk/effect.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { Button, Trouble } from '../kit/controls.tsx';
import { Select } from '../kit/select.tsx';
import { type NumberForm, show } from '../kit/number-form.ts';
import { Part } from './part.tsx';
import type { Against, NamedMove, TrialEffect } from './trial-session.ts';
import { useTrial } from './use-trial.ts';

/** What a draft of a recipe does to every price of a list, while it is typed. Nothing is kept or posted by it. */
export function Trial({
  lists,
  kept,
  body,
}: {
  lists: readonly { id: string; name: string }[];
  /** The recipe as it is kept; null: it is new. */
  kept: RecipeBody | null;
  body: RecipeBody;
}) {
  const [list, setList] = useState('');
  const [tried, setTried] = useState(false);
  const chosen = lists.length === 1 ? lists[0]!.id : list;
  return (
    <>
      <div className="mt-5">
        <Part number={7} title="What it does">
          {tried ? null : (
            <Button onClick={() => setTried(true)} disabled={lists.length === 0 || !recipeBody.isValidSync(body)}>
              Try it on every price
            </Button>
          )}
          {tried && lists.length > 1 ? (
            <Select
              aria-label="Try it on"
              value={list}
              onValue={(chosen) => setList(chosen)}
              options={[['', 'try it on a list …'], ...lists.map((l) => [l.id, l.name] as const)]}
            />
          ) : null}
        </Part>
      </div>
      {tried && chosen ? <OnList key={chosen} list={chosen} kept={kept} body={body} /> : null}
    </>
  );
}

/** The sums stay in sight while rows far above them are changed. */
function OnList({ list, kept, body }: { list: string; kept: RecipeBody | null; body: RecipeBody }) {
  const [against, setAgainst] = useState<Against>(kept ? 'kept' : 'posted');
  const [start] = useState(() => JSON.stringify(body));
  const { effect, milliseconds, loading, trouble } = useTrial(list, kept ? JSON.stringify(kept) : start, body, against);
  const form = useNumberForm();
  if (trouble) return <Trouble tone="warn">{trouble}</Trouble>;
  if (!effect) return <p className="text-faint">Reading the list …</p>;
  return (
    <>
      <div className="mt-2 flex flex-col gap-3" aria-busy={loading}>
        {kept ? (
          <div role="group" aria-label="Held against" className="flex gap-1 border-b border-rule">
            {(
              [
                ['kept', 'against the recipe as it is kept'],
                ['posted', 'against the posted prices'],
              ] as const
            ).map(([value, title]) => (
              <button
                key={value}
                type="button"
                aria-pressed={against === value}
                onClick={() => setAgainst(value)}
                className={`border-b-2 px-2 py-1 ${against === value ? 'border-accent font-medium' : 'border-transparent'}`}
              >
                {title}
              </button>
            ))}
          </div>
        ) : null}
        <div className="grid items-start gap-6 lg:grid-cols-[minmax(0,22rem)_minmax(0,1fr)]">
          <Moves effect={effect} form={form} />
          <Largest effect={effect} form={form} />
        </div>
        <p className="text-xs text-faint">
          {count(effect.prices - effect.undecided, form)} prices in {Math.max(1, Math.round(milliseconds))} ms, exactly
          as they would be proposed.
          {effect.undecided > 0
            ? ` ${count(effect.undecided, form)} more stand so near a rounding, or lack so much, that only a worksheet decides them.`
            : ''}
        </p>
      </div>
      <div
        className="mt-3 border-y border-rule-strong bg-paper py-1.5 [@media(min-height:36rem)]:sticky [@media(min-height:36rem)]:bottom-0"
        role="status"
      >
        <Counts effect={effect} form={form} against={against} />
        {loading ? <p className="text-xs text-faint">The list is being made ready for what you changed …</p> : null}
      </div>
    </>
  );
}

const count = (n: number, form: NumberForm): string => show(String(n), form);

function Counts({ effect, form, against }: { effect: TrialEffect; form: NumberForm; against: Against }) {
  const figures: readonly [title: string, figure: string][] = [
    ['rise', count(effect.rises, form)],
    ['fall', count(effect.falls, form)],
    ['stay', count(effect.unchanged, form)],
    ['had none before', count(effect.first, form)],
    ['set by a guard', count(effect.guarded, form)],
  ];
  const percent = (n: number) => `${show(n.toFixed(1), form)} %`;
  return (
    <dl className="flex flex-wrap items-end gap-x-8 gap-y-1">
      <div className="text-xs text-faint">
        {against === 'kept' ? 'against the kept recipe' : 'against posted prices'}
      </div>
      {figures.map(([title, figure]) => (
        <div key={title} className="flex flex-col">
          <dt className="text-xs text-faint">{title}</dt>
          <dd className="figure text-base">{figure}</dd>
        </div>
      ))}
      {effect.meanMargin === null ? null : (
        <div className="flex flex-col">
          <dt className="text-xs text-faint">mean margin</dt>
          <dd className="figure text-base">
            {percent(effect.meanMargin)}
            {effect.meanMarginBefore === null ? null : (
              <span className="text-faint"> was {percent(effect.meanMarginBefore)}</span>
            )}
          </dd>
        </div>
      )}
    </dl>
  );
}

/** How far prices move: the falls first, then the rises. */
function Moves({ effect, form }: { effect: TrialEffect; form: NumberForm }) {
  const most = Math.max(1, ...effect.moves);
  const edge = (n: number) => show(String(Math.abs(n)), form);
  const title = (at: number) => {
    const [from, to] = [MOVE_EDGES[at - 1], MOVE_EDGES[at]];
    if (from === undefined) return `fall by more than ${edge(to!)} %`;
    if (to === undefined) return `rise by ${edge(from)} % and more`;
    return to <= 0 ? `fall by ${edge(to)} to ${edge(from)} %` : `rise by ${edge(from)} to ${edge(to)} %`;
  };
  return (
    <table className="ruled w-full">
      <caption className="pb-1 text-left text-xs text-faint">How far prices move</caption>
      <tbody>
        {effect.moves.map((n, at) => (
          <tr key={title(at)} className={n === 0 ? 'text-faint' : ''}>
            <td className="w-44 whitespace-nowrap">{title(at)}</td>
            <td aria-hidden>
              <span className="block h-2.5 bg-rule-strong" style={{ width: `${(n / most) * 100}%` }} />
            </td>
            <td className="figure w-20">{count(n, form)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Largest({ effect, form }: { effect: TrialEffect; form: NumberForm }) {
  const parts: readonly [title: string, moves: readonly NamedMove[]][] = [
    ['largest rises', effect.largestRises],
    ['largest falls', effect.largestFalls],
  ];
  if (parts.every(([, moves]) => moves.length === 0)) return <p className="text-faint">No price moves.</p>;
  return (
    <table className="ruled w-full">
      <thead>
        <tr>
          <th>Item</th>
          <th className="figure">before, {effect.currency}</th>
          <th className="figure">then, {effect.currency}</th>
        </tr>
      </thead>
      {parts.map(([title, moves]) =>
        moves.length === 0 ? null : (
          <tbody key={title}>
            <tr>
              <th scope="rowgroup" colSpan={3} className="text-left text-xs font-normal text-faint">
                {title}
              </th>
            </tr>
            {moves.map((m) => (
              <tr key={m.sku}>
                <td className="truncate">
                  <span className="figure">{m.sku}</span> {m.name}
                </td>
                <td className="figure">{show(m.before, form)}</td>
                <td className="figure">{show(m.after, form)}</td>
              </tr>
            ))}
          </tbody>
        ),
      )}
    </table>
  );
}
