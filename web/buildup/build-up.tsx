import { useState } from 'react';
import { Link } from 'react-router';
import { toast } from 'sonner';
import type { BuildUp } from '#contract/lists.ts';
import { postedWords } from '../ledger/posted-words.ts';
import { listsApi } from '../lists/endpoints.ts';
import { problemOf } from '../api.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { Trouble } from '../kit/controls.tsx';
import { Figure } from '../kit/figure.tsx';
import { show, showDay } from '../kit/number-form.ts';
import { useDay } from '../frame/day.ts';
import { useSignedIn } from '../people/use-me.ts';
import { StepsList } from './steps-list.tsx';

/** The right side: why this price. Computed now, or as it was recorded when it was posted. */
export function BuildUpPanel({
  list,
  item,
  pack,
  day,
  onClose,
}: {
  list: string;
  item: string;
  pack: string;
  day: string | null;
  onClose: () => void;
}) {
  const { currentData: b, error } = listsApi.useBuildUpQuery({ list, item, pack, day });
  const form = useNumberForm();
  const [asPosted, setAsPosted] = useState(false);
  const steps = asPosted ? b?.postedSteps : b?.computed?.steps;
  const places = 2;
  return (
    <aside
      aria-label="Build-up"
      className="flex w-[21.5rem] shrink-0 flex-col overflow-auto border-l border-rule-strong bg-sheet"
    >
      <div className="flex items-start gap-2 border-b border-rule-strong px-4 py-2">
        <div className="min-w-0 flex-1">
          <h2>Build-up</h2>
          {b ? (
            <div className="text-xs text-faint">
              {b.item.sku} · {b.item.name} · {b.pack.name} · {b.list.name}, {b.list.currency}, tax{' '}
              {b.list.taxIn ? 'in' : 'out'}
            </div>
          ) : null}
        </div>
        <button type="button" onClick={onClose} aria-label="Put the build-up away" className="px-1 text-faint">
          ×
        </button>
      </div>
      {error ? <Trouble>{problemOf(error).message}</Trouble> : null}
      {b ? (
        <div className="px-4 py-2">
          {b.posted ? (
            <div className="mb-2 border-b border-rule pb-2">
              <div className="flex items-baseline justify-between">
                <span>posted</span>
                <Figure value={b.posted.price} places={places} final />
              </div>
              <div className="text-xs text-faint">
                from {showDay(b.posted.from, form)}
                {b.posted.lastDay ? ` until ${showDay(b.posted.lastDay, form)}` : ''} by {b.posted.by},{' '}
                <Link className="text-accent underline underline-offset-2" to={`/ledger/${b.posted.posting}`}>
                  posting {b.posted.posting}
                </Link>
                : {b.posted.reason}
              </div>
              {b.posted.handSet ? <HandSet buildUp={b} /> : null}
            </div>
          ) : (
            <p className="mb-2 text-faint">Nothing is posted on this day.</p>
          )}
          {b.computed && b.postedSteps ? (
            <div role="group" aria-label="Which derivation" className="mb-2 flex text-xs">
              {(
                [
                  [false, 'computed now'],
                  [true, 'as posted'],
                ] as const
              ).map(([value, title]) => (
                <button
                  key={title}
                  type="button"
                  aria-pressed={asPosted === value}
                  onClick={() => setAsPosted(value)}
                  className={`border-b-2 px-2 py-0.5 ${asPosted === value ? 'border-accent font-medium' : 'border-transparent text-accent'}`}
                >
                  {title}
                </button>
              ))}
            </div>
          ) : null}
          {b.reason ? <Trouble tone="warn">{b.reason}</Trouble> : null}
          {steps ? <StepsList steps={steps} places={places} links /> : null}
          {b.computed && !asPosted ? (
            <dl className="mt-3 grid grid-cols-[1fr_auto] gap-y-1 border-t border-rule-strong pt-2">
              <dt className="text-faint">net of tax and deposit</dt>
              <dd className="text-right">
                <Figure value={b.computed.net} places={4} />
              </dd>
              <dt className="text-faint">tax in the price</dt>
              <dd className="text-right">
                <Figure value={b.computed.taxInPrice} places={2} />
              </dd>
              <dt className="text-faint">achieved markup, on cost</dt>
              <dd className="text-right">
                <Figure value={b.computed.markup} places={2} /> %
              </dd>
              <dt className="text-faint">achieved margin, of price</dt>
              <dd className="text-right">
                <Figure value={b.computed.margin} places={2} /> %
              </dd>
            </dl>
          ) : null}
          {b.computed && !asPosted && b.computed.costSteps.length > 0 ? (
            <div className="mt-3">
              <h3 className="border-b border-rule-strong text-xs text-faint">
                Landed cost, which the price is held against
              </h3>
              <StepsList steps={b.computed.costSteps} places={4} links />
            </div>
          ) : null}
        </div>
      ) : null}
    </aside>
  );
}

/** A typed price: why, until when, and the way to end it. */
function HandSet({ buildUp: b }: { buildUp: BuildUp }) {
  const me = useSignedIn();
  const form = useNumberForm();
  const { today } = useDay();
  const [post, { isLoading, error }] = listsApi.usePostMutation();
  const { lastDay, handSet } = b.posted!;
  const after = b.computed?.recipePrice;
  const release = async () => {
    try {
      const done = await post({
        list: b.list.id,
        effective: b.day < today ? today : b.day,
        reason: `${b.item.sku} follows its recipe again`,
        lines: [
          { item: b.item.id, pack: b.pack.id, before: b.posted!.price, after: after!, release: true, handSet: null },
        ],
      }).unwrap();
      toast.success(
        done.request === null
          ? `${b.item.sku} follows its recipe again.`
          : postedWords(done, `on ${b.list.name}`, form),
      );
    } catch {
      /* shown below */
    }
  };
  return (
    <div className="mt-1 border-l-2 border-accent pl-2 text-xs">
      <div>
        ✎ typed: {handSet!.reason}
        {lastDay ? '' : ', until it is released'}
      </div>
      {after && me.rights.has('post') && b.day >= today ? (
        <button type="button" className="text-accent underline" disabled={isLoading} onClick={() => void release()}>
          Release: post {show(after, form)}, as the recipe makes it
        </button>
      ) : null}
      {error ? <Trouble>{problemOf(error).message}</Trouble> : null}
    </div>
  );
}
