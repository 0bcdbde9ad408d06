import { useState } from 'react';
import type { AuditRow } from '#contract/lists.ts';
import { problemOf } from '../api.ts';
import { useMoment } from '../frame/moments.ts';
import { BeforeAfter } from '../kit/before-after.tsx';
import { Trouble } from '../kit/controls.tsx';
import { useSignedIn } from '../people/use-me.ts';
import { ledgerApi } from './endpoints.ts';

/** What a record was before each change. It can be put into the form again; kept, it is a new version. */
export function RecordHistory<B extends object>({
  register,
  id,
  onTake,
}: {
  register: string;
  id: string;
  /** Null: who looks may not change it. */
  onTake: ((body: Partial<B>) => void) | null;
}) {
  const [open, setOpen] = useState(false);
  const may = useSignedIn().rights.has('see_cost');
  const { data, error } = ledgerApi.useRecordHistoryQuery({ subject: register, of: id }, { skip: !open || !may });
  if (!may) return null;
  return (
    <section aria-label="Earlier versions" className="mt-4 border-t border-rule pt-3 text-sm">
      <button
        type="button"
        aria-expanded={open}
        className="text-accent underline underline-offset-2"
        onClick={() => setOpen(!open)}
      >
        Earlier versions
      </button>
      {open && error ? <Trouble>{problemOf(error).message}</Trouble> : null}
      {open && data?.length === 0 ? <p className="text-faint">It was never changed since it is kept here.</p> : null}
      {open ? (
        <ol>
          {(data ?? []).map((entry) => (
            <Entry
              key={entry.id}
              entry={entry}
              onTake={onTake && entry.before ? () => onTake(bodyOf<B>(entry.before as object)) : null}
            />
          ))}
        </ol>
      ) : null}
    </section>
  );
}

/** Without what names it: it goes back into the record that is open. */
function bodyOf<B>(kept: object): Partial<B> {
  const { id: _, version: __, ...body } = kept as { id?: string; version?: number };
  return body as Partial<B>;
}

function Entry({ entry, onTake }: { entry: AuditRow; onTake: (() => void) | null }) {
  const moment = useMoment();
  const [open, setOpen] = useState(false);
  const when = moment(entry.at);
  return (
    <li className="mt-1">
      <span className="flex flex-wrap items-baseline gap-x-3">
        <span className="figure">{when}</span>
        <span>
          {entry.by} {entry.action}
        </span>
        <button
          type="button"
          aria-label={`What changed, ${when}`}
          aria-expanded={open}
          className="text-accent underline underline-offset-2"
          onClick={() => setOpen(!open)}
        >
          what changed
        </button>
        {onTake ? (
          <button
            type="button"
            aria-label={`As it was before that, ${when}`}
            className="text-accent underline underline-offset-2"
            onClick={onTake}
          >
            put it into the form as it was before that
          </button>
        ) : null}
      </span>
      {open ? <BeforeAfter before={entry.before} after={entry.after} /> : null}
    </li>
  );
}
