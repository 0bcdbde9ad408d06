import { useEffect, useRef, useState } from 'react';
import { useDispatch } from 'react-redux';
import { Link } from 'react-router';
import { toast } from 'sonner';
import type { Connection } from '#contract/connections.ts';
import type { CostSupplier } from '#contract/costs.ts';
import { api, problemOf } from '../api.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { useMoment } from '../frame/moments.ts';
import { show } from '../kit/number-form.ts';
import { useSignedIn } from '../people/use-me.ts';
import { ConnectionDialog } from './connection-dialog.tsx';
import { connectionWords, isBeingAsked } from './connection-words.ts';
import { costsApi } from './endpoints.ts';
import { SelfPostingDialog } from './self-posting-dialog.tsx';

/** How often it is looked whether a service has answered, in milliseconds. */
const LOOK_MS = 1_000;
const LINK = 'text-accent underline underline-offset-2';

/** Suppliers: how each is connected, when something of it came last, and whose costs are taken in by themselves. */
export function CostSuppliers({ suppliers }: { suppliers: readonly CostSupplier[] }) {
  const me = useSignedIn();
  const form = useNumberForm();
  const moment = useMoment();
  const [fast, setFast] = useState(false);
  const { data: connections = [] } = costsApi.useConnectionsQuery(undefined, { pollingInterval: fast ? LOOK_MS : 0 });
  // a service that was connected is asked in the background; what it brings stands above
  const asked = connections.some(isBeingAsked);
  if (asked !== fast) setFast(asked);
  const before = useRef(asked);
  const dispatch = useDispatch();
  useEffect(() => {
    if (before.current && !asked) dispatch(api.util.invalidateTags(['sheets']));
    before.current = asked;
  }, [asked, dispatch]);
  const [follow, { isLoading }] = costsApi.useFollowCostsMutation();
  const [fetchNow, { isLoading: asking }] = costsApi.useFetchNowMutation();
  const [open, setOpen] = useState<string | null>(null);
  const [posts, setPosts] = useState<string | null>(null);
  const may = me.rights.has('edit_rules');
  if (suppliers.length === 0) return null;
  const say = (s: CostSupplier) =>
    follow({ id: s.id, follow: !s.follow })
      .unwrap()
      .then(
        () =>
          toast.success(
            s.follow
              ? `What ${s.name} sends waits to be looked at again.`
              : `What ${s.name} sends is taken in by itself, where it is laid out as before and nothing in it is suspicious.`,
          ),
        (e: unknown) => toast.error(problemOf(e).message),
      );
  const ask = (c: Connection) =>
    fetchNow({ id: c.supplier, version: c.version })
      .unwrap()
      .then(
        (now) =>
          now.trouble
            ? toast.error(`${now.supplierName}: ${now.trouble}`)
            : toast.success(
                now.lastSheet === c.lastSheet
                  ? `${now.supplierName} has nothing new.`
                  : `What ${now.supplierName} answered waits in the inbox.`,
              ),
        (e: unknown) => toast.error(problemOf(e).message),
      );
  const posting = suppliers.find((s) => s.id === posts);
  const opened = connections.find((c) => c.supplier === open);
  return (
    <section aria-label="Suppliers" className="mt-7">
      <h2>Suppliers</h2>
      <table className="ruled w-full max-w-6xl">
        <thead>
          <tr>
            <th>Supplier</th>
            <th>Last arrival</th>
            <th>Connection</th>
            <th></th>
            <th>Costs follow by themselves</th>
            <th>Prices post themselves</th>
          </tr>
        </thead>
        <tbody>
          {suppliers.map((s) => {
            const c = connections.find((one) => one.supplier === s.id);
            return (
              <tr key={s.id}>
                <td className="whitespace-nowrap">
                  <Link to={`/setup/suppliers?open=${s.id}`} className={LINK}>
                    {s.name}
                  </Link>
                </td>
                <td className="whitespace-nowrap">
                  {s.lastArrival ? moment(s.lastArrival) : <span className="text-faint">never</span>}
                </td>
                <td className={c?.state === 'asked' ? 'bg-proposed' : ''}>
                  {c ? (
                    <>
                      <span className={c.state === 'on' ? '' : 'text-faint'}>{connectionWords(c, moment)}</span>
                      {c.state === 'on' && c.trouble ? (
                        <div className="text-xs text-stop">
                          {c.trouble}
                          {c.nextTry ? ` Asked again ${moment(c.nextTry)}.` : ''}
                        </div>
                      ) : null}
                    </>
                  ) : null}
                </td>
                <td className="whitespace-nowrap">
                  {c?.state === 'on' && me.rights.has('take_costs') ? (
                    <button type="button" className={`mr-3 ${LINK}`} disabled={asking} onClick={() => void ask(c)}>
                      ask now
                    </button>
                  ) : null}
                  {c && may ? (
                    <button
                      type="button"
                      aria-label={`Connection of ${s.name}`}
                      className={LINK}
                      onClick={() => setOpen(s.id)}
                    >
                      {c.state === 'on' ? 'change …' : 'connect …'}
                    </button>
                  ) : null}
                </td>
                <td>
                  <label className="flex items-baseline gap-2">
                    <input
                      type="checkbox"
                      aria-label={`Costs of ${s.name} follow by themselves`}
                      checked={s.follow}
                      disabled={!may || isLoading}
                      onChange={() => void say(s)}
                    />
                    {s.follow ? 'where nothing is suspicious' : <span className="text-faint">each is looked at</span>}
                  </label>
                </td>
                <td>
                  {s.posts.map((p) => (
                    <div key={p.list}>
                      {p.name} <span className="whitespace-nowrap text-faint">up to {show(p.most, form)} %</span>
                    </div>
                  ))}
                  {me.rights.has('post') ? (
                    <button
                      type="button"
                      aria-label={`Prices after costs of ${s.name}`}
                      className={LINK}
                      onClick={() => setPosts(s.id)}
                    >
                      {s.posts.length === 0 ? 'choose lists …' : 'change …'}
                    </button>
                  ) : s.posts.length === 0 ? (
                    <span className="text-faint">none</span>
                  ) : null}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      {posting ? <SelfPostingDialog supplier={posting} onClose={() => setPosts(null)} /> : null}
      {opened ? <ConnectionDialog connection={opened} onClose={() => setOpen(null)} /> : null}
    </section>
  );
}
