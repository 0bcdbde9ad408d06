import { useMemo, useState } from 'react';
import { Link } from 'react-router';
import type { ShownFinding } from '#contract/findings.ts';
import { findingsApi } from './endpoints.ts';
import { Proofs } from './proofs.tsx';
import { problemOf } from '../api.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { Empty, Field, Trouble, ViewHead } from '../kit/controls.tsx';
import { Select } from '../kit/select.tsx';
import { showDay, showFact, showMoment } from '../kit/number-form.ts';
import { countedIn } from '../kit/words.ts';

const NONE: ShownFinding[] = [];
/** Places named beside a finding; more are counted. */
const NAMED = 4;

/** All that the check of the set-up finds, by kind and list, each with its places and one case. */
export function FindingsView() {
  const form = useNumberForm();
  const { counted, whole } = countedIn(form);
  const [busy, setBusy] = useState(true);
  const { data, error } = findingsApi.useFindingsQuery(undefined, { pollingInterval: busy ? 1500 : 0 });
  const running = data?.running ?? true;
  if (busy !== running) setBusy(running);
  const [kind, setKind] = useState('');
  const [list, setList] = useState('');
  const all = data?.findings ?? NONE;
  const kinds = useMemo(() => {
    const out = new Map<string, { message: string; count: number }>();
    for (const f of all) out.set(f.code, { message: f.message, count: (out.get(f.code)?.count ?? 0) + 1 });
    return [...out];
  }, [all]);
  const lists = useMemo(() => [...new Set(all.flatMap((f) => f.lists))].sort(), [all]);
  const found = all.filter((f) => (kind === '' || f.code === kind) && (list === '' || f.lists.includes(list)));
  return (
    <>
      <ViewHead
        title="Findings"
        about={
          data?.at
            ? `What may be wrong in the set-up, as of ${showMoment(data.at, form)}, for ${showDay(data.day!, form)}.${
                running ? ' Something was changed since: checking again …' : ''
              }`
            : 'What may be wrong in the set-up: rungs, rows, breaks, rules, lists, regions, costs. Checking …'
        }
      />
      <div className="min-h-0 flex-1 overflow-auto px-5 py-3">
        <Proofs />
        {error ? <Trouble>{problemOf(error).message}</Trouble> : null}
        {data?.trouble ? <Trouble>{data.trouble}</Trouble> : null}
        {data?.at && all.length === 0 ? (
          <Empty>Nothing is found: every rule can win, every price has a way.</Empty>
        ) : null}
        {all.length > 0 ? (
          <>
            <div className="mb-3 flex flex-wrap items-end gap-4">
              <Field label="Kind">
                <Select
                  value={kind}
                  className="max-w-[34rem]"
                  onValue={(chosen) => setKind(chosen)}
                  options={[
                    ['', `every kind (${whole(all.length)})`],
                    ...kinds.map(([code, k]) => [code, `${k.message} (${whole(k.count)})`] as const),
                  ]}
                />
              </Field>
              <Field label="List">
                <Select
                  value={list}
                  onValue={(chosen) => setList(chosen)}
                  options={[['', 'every list'], ...lists.map((l) => [l, l] as const)]}
                />
              </Field>
              <span className="pb-1 text-faint" role="status">
                {counted(found.length, 'finding')}
              </span>
            </div>
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
                {found.map((f, i) => (
                  <tr key={i}>
                    <td className="max-w-72">{f.message}</td>
                    <td>
                      {f.places.slice(0, NAMED).map((p) => (
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
                      {f.places.length > NAMED ? (
                        <span className="text-xs text-faint">and {whole(f.places.length - NAMED)} more</span>
                      ) : null}
                    </td>
                    <td className="figure">
                      {whole(f.items)}
                      {f.customers ? (
                        <div className="text-xs text-faint">{counted(f.customers, 'customer')}</div>
                      ) : null}
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
          </>
        ) : null}
      </div>
    </>
  );
}
