import { type ComponentType, useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import type { Right } from '#contract/people.ts';
import { ledgerApi } from './endpoints.ts';
import { problemOf } from '../api.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { useMoment } from '../frame/moments.ts';
import { Empty, Trouble, ViewHead } from '../kit/controls.tsx';
import { showDay } from '../kit/number-form.ts';
import { PostingRequests } from './posting-requests.tsx';
import { countedIn } from '../kit/words.ts';
import { reversedWords, whollyReversed } from './reversed.ts';
import { BeforeAfter } from '../kit/before-after.tsx';
import { useSignedIn } from '../people/use-me.ts';

/** The record that is only added to: postings of prices, and every other change. */
export function Ledger() {
  const me = useSignedIn();
  const [params, setParams] = useSearchParams();
  const parts = PARTS.filter((p) => p.right === null || me.rights.has(p.right));
  const part = parts.find((p) => p.name === params.get('part')) ?? PARTS[0];
  return (
    <>
      <ViewHead
        title="Ledger"
        about="Who, when, why, from what to what. Nothing here is ever changed or deleted; a posting is undone by an opposite one."
      />
      {parts.length > 1 ? (
        <div role="group" aria-label="Which record" className="flex gap-1 border-b border-rule px-4">
          {parts.map(({ name, title }) => (
            <button
              key={name}
              type="button"
              aria-pressed={part.name === name}
              onClick={() => setParams(name === 'postings' ? {} : { part: name }, { replace: true })}
              className={`border-b-2 px-2 py-1 ${part.name === name ? 'border-accent font-medium' : 'border-transparent'}`}
            >
              {title}
            </button>
          ))}
        </div>
      ) : null}
      <div className="min-h-0 flex-1 overflow-auto px-5 py-3">
        <part.Shown />
      </div>
    </>
  );
}

function Postings() {
  const { data, error } = ledgerApi.usePostingsQuery();
  const form = useNumberForm();
  const moment = useMoment();
  const { whole } = countedIn(form);
  if (error) return <Trouble>{problemOf(error).message}</Trouble>;
  if (data?.length === 0) return <Empty>Prices that are posted on a list stand here, the latest first.</Empty>;
  return (
    <table className="ruled w-full max-w-6xl">
      <thead>
        <tr>
          <th className="figure">No.</th>
          <th>In force from</th>
          <th>List</th>
          <th className="figure">prices</th>
          <th className="figure">up</th>
          <th className="figure">down</th>
          <th>Why</th>
          <th>Who</th>
          <th>When</th>
        </tr>
      </thead>
      <tbody>
        {data?.map((p) => (
          <tr key={p.id} className={whollyReversed(p) ? 'text-faint' : ''}>
            <td className="figure">
              <Link to={`/ledger/${p.id}`} className="text-accent underline underline-offset-2">
                {p.id}
              </Link>
            </td>
            <td className="whitespace-nowrap">
              {showDay(p.effective, form)}
              {p.lastDay ? ` until ${showDay(p.lastDay, form)}` : ''}
            </td>
            <td>{p.listName}</td>
            <td className="figure">{whole(p.lines)}</td>
            <td className="figure">{whole(p.up)}</td>
            <td className="figure">{whole(p.down)}</td>
            <td>
              {p.kind === 'reverse' ? `reverses ${p.reverses}: ` : ''}
              {whollyReversed(p) ? <s>{p.reason}</s> : p.reason}
              {p.reversedBy.length > 0 ? ` (${reversedWords(p, form)} ${p.reversedBy.join(', ')})` : ''}
            </td>
            <td>
              {p.by}
              {p.agreedBy ? <span className="text-faint"> and {p.agreedBy}</span> : null}
            </td>
            <td className="whitespace-nowrap">{moment(p.at)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Changes() {
  const { data, error } = ledgerApi.useAuditQuery();
  const moment = useMoment();
  const [open, setOpen] = useState<string | null>(null);
  if (error) return <Trouble>{problemOf(error).message}</Trouble>;
  return (
    <table className="ruled w-full max-w-6xl">
      <thead>
        <tr>
          <th>When</th>
          <th>Who</th>
          <th>What</th>
          <th>Of</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        {data?.flatMap((a) => [
          <tr key={a.id}>
            <td className="whitespace-nowrap">{moment(a.at)}</td>
            <td>{a.by}</td>
            <td>{a.action}</td>
            <td>
              {a.subject} {a.subjectId}
            </td>
            <td>
              {a.before || a.after ? (
                <button
                  type="button"
                  aria-expanded={open === a.id}
                  className="text-accent underline"
                  onClick={() => setOpen(open === a.id ? null : a.id)}
                >
                  before and after
                </button>
              ) : null}
            </td>
          </tr>,
          ...(open === a.id
            ? [
                <tr key={`${a.id}d`}>
                  <td colSpan={5}>
                    <BeforeAfter before={a.before} after={a.after} />
                  </td>
                </tr>,
              ]
            : []),
        ])}
      </tbody>
    </table>
  );
}

interface Part {
  readonly name: string;
  readonly title: string;
  readonly right: Right | null;
  readonly Shown: ComponentType;
}
const PARTS: readonly [Part, ...Part[]] = [
  { name: 'postings', title: 'postings of prices', right: null, Shown: Postings },
  { name: 'requests', title: 'for a second person', right: 'post', Shown: PostingRequests },
  { name: 'changes', title: 'every other change', right: 'see_cost', Shown: Changes },
];
