import { useDeferredValue, useState } from 'react';
import { Link } from 'react-router';
import { FINDINGS_PAGE, type Findings, type ShownFinding } from '#contract/findings.ts';
import { findingsApi } from './endpoints.ts';
import { Proofs } from './proofs.tsx';
import { problemOf } from '../api.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { useMoment } from '../frame/moments.ts';
import { Button, Empty, Field, Input, Trouble, ViewHead } from '../kit/controls.tsx';
import { Pages, pageAt, useAsked } from '../kit/pages.tsx';
import { Select } from '../kit/select.tsx';
import { showDay, showFact } from '../kit/number-form.ts';
import { countedIn } from '../kit/words.ts';

/** All that the check of the set-up finds, by kind and list, each with its places and one case; a page at a time. */
export function FindingsView() {
  const form = useNumberForm();
  const moment = useMoment();
  const [busy, setBusy] = useState(true);
  const [params, set] = useAsked();
  const asked = {
    kind: params.get('kind') ?? '',
    list: params.get('list') ?? '',
    find: params.get('find') ?? '',
    about: params.get('about') ?? '',
    at: String(pageAt(params)),
  };
  const find = useDeferredValue(asked.find);
  const { data, error, isFetching } = findingsApi.useFindingsQuery(
    { ...asked, find },
    { pollingInterval: busy ? 1500 : 0 },
  );
  const running = data?.running ?? true;
  if (busy !== running) setBusy(running);
  return (
    <>
      <ViewHead
        title="Findings"
        about={
          data?.at
            ? `What may be wrong in the set-up, as of ${moment(data.at)}, for ${showDay(data.day!, form)}.${
                running ? ' Something was changed since: checking again …' : ''
              }`
            : 'What may be wrong in the set-up: rungs, rows, breaks, rules, lists, regions, costs. Checking …'
        }
      />
      <div className="min-h-0 flex-1 overflow-auto px-5 py-3">
        <Proofs />
        {error ? <Trouble>{problemOf(error).message}</Trouble> : null}
        {data?.trouble ? <Trouble>{data.trouble}</Trouble> : null}
        {data?.at && data.total === 0 ? (
          <Empty>Nothing is found: every rule can win, every price has a way.</Empty>
        ) : null}
        {data && data.total > 0 ? (
          <div aria-busy={isFetching}>
            <Narrowed of={data} asked={asked} set={set} />
            {data.count === 0 ? <Empty>None of them fits what is asked for.</Empty> : <Found rows={data.findings} />}
            <Pages
              at={Number(asked.at)}
              rows={data.findings.length}
              count={data.count}
              page={FINDINGS_PAGE}
              onAt={(at) => set({ at })}
            />
          </div>
        ) : null}
      </div>
    </>
  );
}

/** Which of them are asked for, and how many those are. */
function Narrowed({
  of,
  asked,
  set,
}: {
  of: Findings;
  asked: Readonly<Record<'kind' | 'list' | 'find' | 'about', string>>;
  set: (change: Readonly<Record<string, string | null>>) => void;
}) {
  const { counted, whole } = countedIn(useNumberForm());
  return (
    <div className="mb-3 flex flex-wrap items-end gap-4">
      <Field label="Kind">
        <Select
          value={asked.kind}
          className="max-w-[34rem]"
          onValue={(kind) => set({ kind })}
          options={[
            ['', `every kind (${whole(of.total)})`],
            ...of.kinds.map((k) => [k.code, `${k.message} (${whole(k.count)})`] as const),
          ]}
        />
      </Field>
      <Field label="List">
        <Select
          value={asked.list}
          onValue={(list) => set({ list })}
          options={[['', 'every list'], ...of.lists.map((l) => [l, l] as const)]}
        />
      </Field>
      <Field label="Only those with">
        <Input
          type="search"
          name="find"
          value={asked.find}
          placeholder="code, name or figure"
          onChange={(e) => set({ find: e.target.value })}
        />
      </Field>
      <span className="pb-1 text-faint" role="status">
        {counted(of.count, 'finding')}
        {asked.about ? ' about one record' : ''}
      </span>
      {asked.about ? <Button onClick={() => set({ about: null })}>About all records</Button> : null}
    </div>
  );
}

function Found({ rows }: { rows: readonly ShownFinding[] }) {
  const form = useNumberForm();
  const { counted, whole } = countedIn(form);
  return (
    <table className="ruled w-full max-w-6xl">
      <thead>
        <tr>
          <th>What</th>
          <th>Where</th>
          <th className="figure">items</th>
          <th>For example</th>
        </tr>
      </thead>
      <tbody>
        {rows.map((f, i) => (
          <tr key={i}>
            <td className="max-w-72">{f.message}</td>
            <td>
              {f.places.map((p) => (
                <div key={p.title}>
                  {p.to ? (
                    <Link className="text-accent underline underline-offset-2" to={p.to}>
                      {p.title}
                    </Link>
                  ) : (
                    p.title
                  )}
                </div>
              ))}
              {f.morePlaces > 0 ? <span className="text-xs text-faint">and {whole(f.morePlaces)} more</span> : null}
            </td>
            <td className="figure">
              {whole(f.items)}
              {f.customers ? <div className="text-xs text-faint">{counted(f.customers, 'customer')}</div> : null}
            </td>
            <td className="text-xs">
              {f.example.map((e) => (
                <span key={e.fact} className="mr-3">
                  <span className="text-faint">{e.fact.replace(/([A-Z])/g, ' $1').toLowerCase()}</span>{' '}
                  {e.fact === 'item' ? e.value : showFact(e.value, form)}
                </span>
              ))}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
