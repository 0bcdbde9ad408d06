import { useState } from 'react';
import type { ItemRow } from '#contract/items.ts';
import { api, problemOf } from '../api.ts';
import { StepsList } from '../buildup/steps-list.tsx';
import { useDay } from '../frame/day.ts';
import { Empty, Field, Select, Trouble, ViewHead } from '../kit/controls.tsx';
import { Figure } from '../kit/figure.tsx';
import { NumberInput } from '../kit/number-input.tsx';
import { ItemPicker } from './item-picker.tsx';

const NO_ITEMS: ItemRow[] = [];

/** What would this customer pay for that item, on the day at the top, and why. */
export function PriceCheck() {
  const { day, asked } = useDay();
  const { data: customers = [] } = api.useRegisterQuery('customers');
  const { data: items = NO_ITEMS } = api.useItemsQuery(asked);
  const [customer, setCustomer] = useState('');
  const [item, setItem] = useState<ItemRow | null>(null);
  const [pack, setPack] = useState('');
  const [quantity, setQuantity] = useState('1');
  const ready = customer !== '' && item !== null && /^\d+(\.\d+)?$/.test(quantity);
  const { currentData: found, error } = api.usePriceCheckQuery(
    { customer, item: item?.id ?? '', pack, quantity, day },
    { skip: !ready },
  );
  const line = found?.figures.lines[0];
  return (
    <>
      <ViewHead title="Price check" about="What anyone would pay, on the day at the top, and why." />
      <div className="min-h-0 flex-1 overflow-auto px-5 py-4">
        <div className="flex flex-wrap items-end gap-x-5 gap-y-3">
          <Field label="Customer">
            <Select
              name="customer"
              value={customer}
              onChange={(e) => setCustomer(e.target.value)}
              options={[['', 'choose …'], ...customers.map((c) => [c.id, String(c['name'])] as const)]}
              className="w-60"
            />
          </Field>
          <ItemPicker items={items} label="Item: code or name" onPick={(i) => (setItem(i), setPack(i.packs[0]!.id))} />
          {item ? (
            <Field label="Pack">
              <Select
                value={pack}
                onChange={(e) => setPack(e.target.value)}
                options={item.packs.map((p) => [p.id, p.name] as const)}
              />
            </Field>
          ) : null}
          <Field label="Quantity">
            <NumberInput value={quantity} onValue={setQuantity} className="w-24" />
          </Field>
        </div>
        {error ? (
          <div className="mt-4">
            <Trouble>{problemOf(error).message}</Trouble>
          </div>
        ) : null}
        {!ready ? <Empty>Choose a customer and an item.</Empty> : null}
        {found && line && item ? (
          <section className="mt-5 max-w-xl">
            <h2>
              {item.name}{' '}
              <span className="font-normal text-faint">
                {item.sku}, on {found.listName}, {found.figures.currency}, tax {found.figures.taxIn ? 'in' : 'out'}
              </span>
            </h2>
            {line.reason ? (
              <Trouble tone="warn">{line.reason}</Trouble>
            ) : (
              <>
                <p className="my-3 text-2xl">
                  <Figure value={line.unitPrice} places={2} className="!text-2xl" final />{' '}
                  <span className="text-base text-faint">
                    {found.figures.currency} {line.packName === 'each' ? 'each' : `per ${line.packName}`}
                  </span>
                </p>
                {line.breakWords ? <p className="mb-2 text-faint">{line.breakWords}</p> : null}
                <StepsList steps={line.steps} places={2} links={false} />
              </>
            )}
          </section>
        ) : null}
      </div>
    </>
  );
}
