import { type ReactNode, useState } from 'react';
import { Link, useParams } from 'react-router';
import type { ItemPage } from '#contract/items.ts';
import { problemOf } from '../api.ts';
import { BuildUpPanel } from '../buildup/build-up.tsx';
import { CostsOfItem } from '../costs/item-costs.tsx';
import { costsApi } from '../costs/endpoints.ts';
import { useDay } from '../frame/day.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { Button, Trouble, ViewHead } from '../kit/controls.tsx';
import { Figure } from '../kit/figure.tsx';
import { show, showDay } from '../kit/number-form.ts';
import { useSignedIn } from '../people/use-me.ts';
import { CostChart } from './cost-chart.tsx';
import { itemsApi } from './endpoints.ts';
import { ItemDialog } from './item-dialog.tsx';
import { ItemHistory, ItemQuotes, ItemRules } from './item-tables.tsx';
import { ItemPrices, type Shown } from './item-prices.tsx';
import { ItemConnection } from '../costs/item-connection.tsx';

/** Everything about one item in one place. */
export function ItemView() {
  const { id = '' } = useParams();
  const { asked } = useDay();
  const { currentData: item, error } = itemsApi.useItemPageQuery({ id, day: asked });
  if (error) return <Trouble>{problemOf(error).message}</Trouble>;
  return item ? <Body key={item.id} item={item} /> : null;
}

function Section({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section className="mt-5">
      <h2 className="border-b border-rule-strong pb-1">{title}</h2>
      {children}
    </section>
  );
}

function Body({ item }: { item: ItemPage }) {
  const me = useSignedIn();
  const form = useNumberForm();
  const { asked } = useDay();
  const cost = me.rights.has('see_cost');
  const [editing, setEditing] = useState(false);
  const [shown, setShown] = useState<Shown | null>(null);
  const { data: record } = itemsApi.useItemRecordQuery(item.id, { skip: !editing });
  return (
    <>
      <ViewHead
        title={item.name}
        about={
          <>
            <span className="figure !text-left">{item.sku}</span> · {item.categoryPath.join(' › ')}
            {item.retiredFrom ? (
              <span className="ml-2 bg-warn-ground px-2 text-warn">retired from {showDay(item.retiredFrom, form)}</span>
            ) : null}
          </>
        }
      >
        <Link
          to={`/items?find=${encodeURIComponent(item.sku)}`}
          className="border border-rule-strong px-3 py-1 font-medium text-accent"
        >
          In the grid
        </Link>
        {me.rights.has('edit_rules') ? (
          <Link
            to={`/items/${item.id}/variants`}
            className="border border-rule-strong px-3 py-1 font-medium text-accent"
          >
            Variants
          </Link>
        ) : null}
        {me.rights.has('edit_rules') ? (
          <Button weight="main" onClick={() => setEditing(true)}>
            Change the item
          </Button>
        ) : null}
      </ViewHead>
      {editing && record ? <ItemDialog row={record} onClose={() => setEditing(false)} /> : null}
      <div className="flex min-h-0 flex-1">
        <div className="min-w-0 flex-1 overflow-auto px-5 pb-6">
          <div className="flex flex-wrap gap-x-10">
            <Facts item={item} />
            {cost ? <Costs item={item} /> : null}
          </div>
          <Section title={asked ? `Prices on ${showDay(asked, form)}` : 'Prices today'}>
            <ItemPrices item={item} shown={shown} onShown={setShown} />
          </Section>
          <div className="grid gap-x-10 xl:grid-cols-2">
            <Section title="Rules that reach it">
              <ItemRules rules={item.rules} />
            </Section>
            <Section title="Latest quotes">
              <ItemQuotes quotes={item.quotes} />
            </Section>
          </div>
          {cost ? (
            <Section title="Costs, every supplier">
              <CostsOfItem item={item} />
            </Section>
          ) : null}
          <Section title="In the ledger">
            <ItemHistory item={item} />
          </Section>
        </div>
        {shown ? (
          <BuildUpPanel list={shown.list} item={item.id} pack={shown.pack} day={asked} onClose={() => setShown(null)} />
        ) : null}
      </div>
    </>
  );
}

function Facts({ item }: { item: ItemPage }) {
  const form = useNumberForm();
  const recommended = (r: ItemPage['rrp']) =>
    r ? `${show(r.amount, form, 2)} ${r.currency}, tax ${r.taxIn ? 'in' : 'out'}` : null;
  const amount = (text: string | null) => {
    const [value = '', currency = ''] = (text ?? '').split(' ');
    return text ? `${show(value, form, 2)} ${currency}` : null;
  };
  const rows: (readonly [string, ReactNode])[] = [
    ['supplier', item.supplierName && `${item.supplierName}${item.supplierCode ? `, ${item.supplierCode}` : ''}`],
    ['its service', item.supplier ? <ItemConnection item={item.id} /> : null],
    ['brand, model', [item.brand, item.model].filter(Boolean).join(', ') || null],
    ['weight', item.weightKg && `${show(item.weightKg, form)} kg per ${item.unit}`],
    ['tax class', item.taxClass],
    ['RRP', recommended(item.rrp)],
    ['minimum advertised', recommended(item.map)],
    ...item.attributes.map((a) => [a.name, a.value] as const),
    [
      'lockstep',
      item.lockstep ? (
        <>
          {item.lockstep.name}: {item.lockstep.lead ? 'the lead of ' : 'follows '}
          {item.lockstep.members
            .filter((m, n) => m.id !== item.id && (item.lockstep!.lead || n === 0))
            .map((m, n) => (
              <span key={m.id}>
                {n > 0 ? ', ' : ''}
                <Link className="text-accent underline" to={`/items/${m.id}`} title={m.name}>
                  {m.sku}
                </Link>
              </span>
            ))}
        </>
      ) : null,
    ],
  ];
  return (
    <div className="min-w-80 flex-1">
      <Section title="What it is">
        <dl className="mt-1 grid max-w-xl grid-cols-[10rem_1fr] gap-x-4 gap-y-0.5">
          {rows.map(([name, value]) =>
            value === null || value === ''
              ? null
              : [
                  <dt key={name} className="text-faint">
                    {name}
                  </dt>,
                  <dd key={`${name} value`}>{value}</dd>,
                ],
          )}
        </dl>
        <table className="ruled mt-2 w-full max-w-xl">
          <thead>
            <tr>
              <th>Pack</th>
              <th className="figure">{item.unit === 'each' ? 'pieces' : `${item.unit}s`}</th>
              <th>Deposit</th>
              <th>Barcode</th>
            </tr>
          </thead>
          <tbody>
            {item.packs.map((p) => (
              <tr key={p.id}>
                <td>{p.name}</td>
                <td className="figure">{show(p.units, form)}</td>
                <td>
                  {[amount(p.deposit), p.unitDeposit && `${amount(p.unitDeposit)} per ${item.unit}`]
                    .filter(Boolean)
                    .join(' + ')}
                </td>
                <td className="figure !text-left">{p.barcode}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </Section>
    </div>
  );
}

function Costs({ item }: { item: ItemPage }) {
  const me = useSignedIn();
  const { data: costs = [] } = costsApi.useItemCostsQuery(item.id);
  return (
    <div className="min-w-80 flex-1">
      <Section title="What it costs">
        <p className="mt-1">
          {item.landed ? (
            <>
              landed <Figure value={item.landed} places={4} final /> {me.workspace.currency} per {item.unit}
            </>
          ) : (
            <span className="text-stop">{item.costReason ?? 'no cost'}</span>
          )}
        </p>
        {costs.length > 0 ? <CostChart costs={costs} today={me.workspace.today} /> : null}
      </Section>
    </div>
  );
}
