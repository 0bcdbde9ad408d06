import { useState } from 'react';
import { type ListPrices, POSTING_HARMS, type ToPost, harmWords } from '#contract/lists.ts';
import { listsApi } from './endpoints.ts';
import { problemOf } from '../api.ts';
import { useDay } from '../frame/day.ts';
import { DateField } from '../kit/date-field.tsx';
import { faultWords } from '../kit/faults.tsx';
import { Button, Dialog, Field, Input, Trouble } from '../kit/controls.tsx';
import { useNumberForm } from '../frame/preferences.ts';
import { countedIn } from '../kit/words.ts';
import { postedWords } from '../ledger/posted-words.ts';
import { useWouldPost } from './would-post.ts';
import { Harmed, LargestMoves, PostChoice } from './post-figures.tsx';

interface Moved {
  seen: { before: string | null; after: string };
  now: { before: string | null; after: string | null };
  sku: string;
}

/** The last look before posting: how many prices, the largest moves, the day, and why. */
export function PostDialog({
  list,
  toPost,
  onClose,
}: {
  list: ListPrices['list'];
  toPost: ToPost;
  /** `typed`: typed prices were among what was posted. */
  onClose: (done: { words: string; typed: boolean } | null) => void;
}) {
  const { asked, today } = useDay();
  const form = useNumberForm();
  const { whole, counted } = countedIn(form);
  const [effective, setEffective] = useState(asked ?? today);
  const [reason, setReason] = useState('');
  const [typedReason, setTypedReason] = useState('');
  const [lastDay, setLastDay] = useState('');
  const [what, setWhat] = useState(toPost.what);
  const [confirmed, setConfirmed] = useState('');
  // as the list shows it; made again where something was changed meanwhile
  const chosen = { ...toPost, what };
  const would = useWouldPost(list.id, asked, chosen, true);
  const [post, { isLoading, error }] = listsApi.usePostShownMutation();
  const problem = error ? problemOf(error) : null;
  const moved =
    problem?.code === 'prices_changed_meanwhile' && Array.isArray(problem.current) ? (problem.current as Moved[]) : [];
  const { currency, name } = list;
  const lines = would?.lines ?? 0;
  const releases = what === 'releases';
  const hurts = POSTING_HARMS.filter((harm) => (would?.harms[harm] ?? 0) > 0).map((harm) =>
    harmWords(harm, would!.harms[harm], counted(would!.harms[harm], 'price')),
  );
  // a yes is to these figures: it lapses where they change
  const meant = hurts.length === 0 || confirmed === hurts.join();
  const typed = would?.typed ?? 0;
  const go = async () => {
    try {
      const done = await post({
        list: list.id,
        day: asked,
        ...chosen,
        confirmed: hurts.length > 0,
        effective,
        lastDay: lastDay || null,
        reason,
        typedReason,
        state: would?.state ?? '',
      }).unwrap();
      onClose({ words: postedWords(done, `on ${name}`, form), typed: what === 'typed' || what === 'changes' });
    } catch {
      /* shown above the form */
    }
  };
  return (
    <Dialog
      open
      onClose={() => onClose(null)}
      title={
        releases ? `Release ${counted(lines, 'typed price')} of ${name}` : `Post ${counted(lines, 'price')} on ${name}`
      }
      wide
    >
      {problem ? (
        <Trouble>
          {problem.message} {faultWords(problem.faults)}
        </Trouble>
      ) : null}
      {moved.length > 0 ? (
        <table className="ruled my-2">
          <thead>
            <tr>
              <th>SKU</th>
              <th className="figure">you saw</th>
              <th className="figure">now computed</th>
            </tr>
          </thead>
          <tbody>
            {moved.slice(0, 8).map((m) => (
              <tr key={m.sku}>
                <td>{m.sku}</td>
                <td className="figure">{m.seen.after}</td>
                <td className="figure">{m.now.after ?? '–'}</td>
              </tr>
            ))}
          </tbody>
        </table>
      ) : null}
      {!releases && would && toPost.typed.length > 0 ? (
        <PostChoice choices={would.choices} what={what} onWhat={setWhat} />
      ) : null}
      <p className="mb-2">
        This changes <strong className="figure">{whole(lines)}</strong> of the{' '}
        <span className="figure">{whole(would?.prices ?? 0)}</span> prices on one list, in {currency}
        {typed > 0 ? (
          <>
            , <strong className="figure">{whole(typed)}</strong> of them typed
          </>
        ) : null}
        .{' '}
        {would && would.posts < lines ? (
          <>
            Lockstep groups are posted once for all of their items: <span className="figure">{whole(would.posts)}</span>{' '}
            in the ledger.{' '}
          </>
        ) : null}
        {releases ? 'They follow their recipe again: each becomes what it makes now. ' : ''}
        {lastDay ? 'After the last day, what is due without them comes back. ' : ''}It can be reversed.
      </p>
      {would && hurts.length > 0 ? <Harmed list={list} harmed={would.harmed} hurts={hurts} /> : null}
      <LargestMoves list={list} would={would} />
      <div className="mt-4 grid grid-cols-[9rem_13rem_1fr] gap-x-5 gap-y-3">
        <Field label="In force from" group>
          <DateField name="effective" label="In force from" from={today} value={effective} onValue={setEffective} />
        </Field>
        <Field label="Last day" hint="empty: until other prices are posted" group>
          <DateField name="lastDay" label="Last day" from={effective} value={lastDay} onValue={setLastDay} />
        </Field>
        <Field label="Why (stands in the ledger)">
          <Input
            name="reason"
            value={reason}
            onChange={(e) => setReason(e.target.value)}
            placeholder={releases ? 'e.g. the fair is over' : 'e.g. new costs of Tamsin Forge'}
          />
        </Field>
        {typed > 0 ? (
          <div className="col-span-full">
            <Field
              label={`Why ${counted(typed, 'price is', 'prices are')} typed`}
              hint="A typed price survives every recalculation until its last day, or until it is released. Empty: as above."
            >
              <Input name="typedReason" value={typedReason} onChange={(e) => setTypedReason(e.target.value)} />
            </Field>
          </div>
        ) : null}
      </div>
      {(would?.untilDay ?? 0) > 0 ? (
        <Trouble tone="warn">
          {counted(would!.untilDay, 'of these takes', 'of these take')} the place of a price that was posted until a
          day, also after that day.
        </Trouble>
      ) : null}
      {would?.secondPerson ? (
        <Trouble tone="warn">
          A second person has to agree: prices move further than this list lets one person decide. Until then nothing
          changes.
        </Trouble>
      ) : null}
      {hurts.length > 0 ? (
        <label className="mt-3 flex items-baseline gap-2">
          <input type="checkbox" checked={meant} onChange={(e) => setConfirmed(e.target.checked ? hurts.join() : '')} />
          I have checked this, and it is intended: {hurts.join(' · ')}
        </label>
      ) : null}
      <div className="mt-5 flex justify-end gap-2">
        <Button onClick={() => onClose(null)}>Cancel</Button>
        <Button
          weight="main"
          disabled={isLoading || lines === 0 || would?.stale || !meant || reason.trim() === ''}
          onClick={() => void go()}
        >
          {isLoading
            ? 'Posting …'
            : would?.secondPerson
              ? `Ask for ${counted(lines, 'price')} to be posted`
              : `${releases ? 'Release' : 'Post'} ${counted(lines, 'price')}`}
        </Button>
      </div>
    </Dialog>
  );
}
