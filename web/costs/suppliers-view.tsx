import type { ReactNode } from 'react';
import { Link, useNavigate } from 'react-router';
import type { ChoiceEffect, SupplierChoices } from '#contract/costs.ts';
import { problemOf } from '../api.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { useMoment } from '../frame/moments.ts';
import { Button, Empty, Trouble, ViewHead } from '../kit/controls.tsx';
import { Change, Figure } from '../kit/figure.tsx';
import { show, showDay } from '../kit/number-form.ts';
import { useSignedIn } from '../people/use-me.ts';
import { useRegister } from '../records/use-register.ts';
import { costsApi } from './endpoints.ts';
import type { LandedTerms } from '#core/costs/cost.ts';
import { landedWords } from './landed-words.ts';

const LINK = 'text-accent underline underline-offset-2';
type Choice = SupplierChoices['choice'];
const CHOICES: readonly Choice[] = ['preferred', 'lowest_landed', 'latest'];
const CHOICE_WORDS: Readonly<Record<Choice, string>> = {
  preferred: 'the preferred supplier’s',
  lowest_landed: 'the lowest landed',
  latest: 'the latest',
};

/** Suppliers: what bringing their goods in costs, in general and where it differs, and whose cost counts. */
export function Suppliers() {
  const me = useSignedIn();
  const form = useNumberForm();
  const moment = useMoment();
  const navigate = useNavigate();
  const { rows: suppliers, error, isLoading } = useRegister('suppliers');
  const { rows: differing } = useRegister('landed');
  const { rows: categories } = useRegister('categories');
  const { data: arrivals = [] } = costsApi.useCostSuppliersQuery();
  const may = me.rights.has('edit_rules');
  const add = (
    <Button weight="main" onClick={() => void navigate('/setup/suppliers?open=new')}>
      New supplier
    </Button>
  );
  const categoryName = (id: string) => categories.find((c) => c.id === id)?.name ?? id;
  return (
    <>
      <ViewHead
        title="Suppliers"
        about="What bringing their goods in costs, in general and where it differs, and whose cost counts."
      >
        {may ? (
          <Button onClick={() => void navigate('/setup/landed?open=new')}>Terms for a category or an item</Button>
        ) : null}
        {may ? add : null}
      </ViewHead>
      <div className="min-h-0 flex-1 overflow-auto px-5 py-4">
        {error ? <Trouble>{problemOf(error).message}</Trouble> : null}
        {!isLoading && suppliers.length === 0 ? (
          <Empty action={may ? add : null}>Here stand those whose goods you sell.</Empty>
        ) : null}
        {suppliers.length > 0 ? (
          <table className="ruled w-full max-w-6xl">
            <thead>
              <tr>
                <th>Supplier</th>
                <th>Currency</th>
                <th>On top of the unit cost</th>
                <th>Last arrival</th>
                <th>Waits</th>
              </tr>
            </thead>
            <tbody>
              {suppliers.map((s) => {
                const own = differing.filter((t) => t.supplier === s.id);
                const arrived = arrivals.find((a) => a.id === s.id);
                return (
                  <tr key={s.id} className="align-top">
                    <td className="whitespace-nowrap">
                      <Link to={`/setup/suppliers?open=${s.id}`} className={LINK}>
                        {s.name}
                      </Link>
                    </td>
                    <td>{s.currency}</td>
                    <td>
                      {landedWords(s.landed as LandedTerms, form) || <span className="text-faint">nothing</span>}
                      {own.map((t) => (
                        <div key={t.id} className={t.from > me.workspace.today ? 'text-faint' : ''}>
                          <Link to={`/setup/landed?open=${t.id}`} className={LINK}>
                            {t.scope.item ? (
                              <>one item</>
                            ) : t.scope.category ? (
                              categoryName(t.scope.category)
                            ) : (
                              <>all goods</>
                            )}
                          </Link>{' '}
                          from {showDay(t.from, form)}: {landedWords(t, form)}
                        </div>
                      ))}
                    </td>
                    <td className="whitespace-nowrap">
                      {arrived?.lastArrival ? moment(arrived.lastArrival) : <span className="text-faint">never</span>}
                    </td>
                    <td className={arrived?.waiting ? 'bg-proposed' : ''}>
                      {arrived?.waiting ? (
                        <Link to="/costs" className={LINK}>
                          {arrived.waiting === 1 ? 'a sheet' : `${arrived.waiting} sheets`}
                        </Link>
                      ) : null}
                    </td>
                  </tr>
                );
              })}
            </tbody>
          </table>
        ) : null}
        {suppliers.length > 1 ? <WhoseCost /> : null}
      </div>
    </>
  );
}

/** Whose cost counts where several offer an item, with the items for which another choice would count another. */
function WhoseCost() {
  const form = useNumberForm();
  const { data: found, error } = costsApi.useSupplierChoicesQuery();
  if (error) return <Trouble>{problemOf(error).message}</Trouble>;
  if (!found) return <p className="mt-7 text-faint">Looking whose cost counts …</p>;
  const others = CHOICES.filter((c) => c !== found.choice);
  return (
    <section aria-label="Whose cost counts" className="mt-7">
      <h2>Whose cost counts</h2>
      <p className="mb-2 max-w-3xl">
        Where several offer an item, <strong>{CHOICE_WORDS[found.choice]}</strong> cost counts. It is chosen with{' '}
        <Link to="/setup/settings" className={LINK}>
          the workspace
        </Link>
        , where the prices it would move stand beside it.
      </p>
      {found.items === 0 ? (
        <p className="text-faint">Today any choice gives the same cost for every item.</p>
      ) : (
        <>
          <ul className="mb-3">
            {found.effects.map((e) => (
              <li key={e.choice}>{effectWords(e, (n) => show(String(n), form))}</li>
            ))}
          </ul>
          <table className="ruled">
            <thead>
              <tr>
                <th>Item</th>
                <th></th>
                {[found.choice, ...others].map((c) => (
                  <th key={c} colSpan={c === found.choice ? 2 : 3}>
                    {CHOICE_WORDS[c]}
                    {c === found.choice ? ' (now)' : ''}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {found.rows.map((r) => (
                <tr key={r.item}>
                  <td className="whitespace-nowrap">
                    <Link to={`/items/${r.item}`} className={LINK}>
                      {r.sku}
                    </Link>
                  </td>
                  <td>{r.name}</td>
                  {[found.choice, ...others].map((c) => {
                    const { supplier, landed, changePercent } = r.by[c];
                    const same = c !== found.choice && supplier === r.by[found.choice].supplier;
                    return (
                      <Cells key={c} faint={same} change={c === found.choice ? undefined : same ? null : changePercent}>
                        {supplier}
                        {landed === null ? 'not known' : <Figure value={landed} places={4} />}
                      </Cells>
                    );
                  })}
                </tr>
              ))}
            </tbody>
          </table>
          {found.rows.length < found.items ? (
            <p className="mt-2 text-faint">
              The {show(String(found.rows.length), form)} that differ most, of {show(String(found.items), form)}.
            </p>
          ) : null}
        </>
      )}
    </section>
  );
}

/** Whose, how much, and how far from what counts now. */
function Cells({
  children: [supplier, landed],
  change,
  faint,
}: {
  children: [ReactNode, ReactNode];
  change: string | null | undefined;
  faint: boolean;
}) {
  const tone = faint ? 'text-faint' : '';
  return (
    <>
      <td className={`border-l border-rule ${tone}`}>{supplier}</td>
      <td className={`figure ${tone}`}>{landed}</td>
      {change === undefined ? null : (
        <td className="figure">{change === null ? '' : <Change value={change} places={1} unit=" %" />}</td>
      )}
    </>
  );
}

function effectWords(e: ChoiceEffect, n: (count: number) => string): string {
  if (e.items === 0) return `If ${CHOICE_WORDS[e.choice]} counted, no cost would be another.`;
  const parts = [
    e.up > 0 ? `${n(e.up)} dearer` : '',
    e.down > 0 ? `${n(e.down)} cheaper` : '',
    e.unknown > 0 ? `${n(e.unknown)} could not be worked out` : '',
  ].filter((p) => p !== '');
  return `If ${CHOICE_WORDS[e.choice]} counted, ${n(e.items)} ${e.items === 1 ? 'item' : 'items'} would take another supplier’s cost: ${parts.join(', ') || 'none dearer or cheaper'}.`;
}
