import { type FormEvent, useState } from 'react';
import { toast } from 'sonner';
import type { ItemRow } from '#contract/items.ts';
import { ProposedCost, useCostProposal } from './cost-proposal.tsx';
import { costsApi } from './endpoints.ts';
import { type QuantityPrice, QuantityPrices } from './quantity-prices.tsx';
import { useRegister } from '../records/use-register.ts';
import { problemOf } from '../api.ts';
import { useDay } from '../frame/day.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { useMoment } from '../frame/moments.ts';
import { DateField } from '../kit/date-field.tsx';
import { faultWords } from '../kit/faults.tsx';
import { Button, Dialog, Field, Trouble } from '../kit/controls.tsx';
import { SupplierField } from './supplier-field.tsx';
import { Figure } from '../kit/figure.tsx';
import { show, showDay } from '../kit/number-form.ts';
import { NumberInput } from '../kit/number-input.tsx';
import { useSignedIn } from '../people/use-me.ts';

const ORIGINS: Record<string, string> = {
  file: 'from a file',
  connection: 'from a connection',
  bill: 'from a bill',
  typed: 'typed',
};

/** Every cost an item has had, with where it came from; a cost typed by hand holds against files until it is released. */
export function ItemCosts({ item, onClose }: { item: ItemRow; onClose: () => void }) {
  return (
    <Dialog open onClose={onClose} title={`Costs of ${item.sku}, ${item.name}`} wide>
      <CostsOfItem item={item} />
    </Dialog>
  );
}

export function CostsOfItem({ item }: { item: Pick<ItemRow, 'id' | 'supplier'> }) {
  const me = useSignedIn();
  const form = useNumberForm();
  const moment = useMoment();
  const { data, error } = costsApi.useItemCostsQuery(item.id);
  const costs = data ?? [];
  const [release] = costsApi.useReleaseCostMutation();
  const may = me.rights.has('take_costs');
  const letGo = (id: string, released: boolean) =>
    void release({ id, released })
      .unwrap()
      .catch((e: unknown) => toast.error(problemOf(e).message));
  return (
    <>
      {error ? <Trouble>{problemOf(error).message}</Trouble> : null}
      {data?.length === 0 ? <p className="text-faint">No cost is known yet.</p> : null}
      {costs.length > 0 ? (
        <table className="ruled w-full">
          <thead>
            <tr>
              <th>counts from</th>
              <th>supplier</th>
              <th className="figure">cost</th>
              <th>in</th>
              <th className="figure">per units</th>
              <th>origin</th>
              <th>entered</th>
              <th></th>
            </tr>
          </thead>
          <tbody>
            {[...costs].reverse().map((c) => {
              const holds = c.origin === 'typed' && !c.released && !c.takenBack;
              return (
                <tr key={c.id} className={c.takenBack ? 'text-faint line-through' : ''}>
                  <td className="whitespace-nowrap">
                    {showDay(c.validFrom, form)}
                    {c.validTo ? (
                      <div className="text-xs text-faint">
                        {c.reduced ? 'reduced until' : 'until'} {showDay(c.validTo, form)}
                      </div>
                    ) : null}
                  </td>
                  <td>{c.supplierName}</td>
                  <td className="figure">
                    <Figure value={c.amount} places={2} />
                    {!c.reduced ? null : (
                      <div className="text-xs text-faint">
                        reduced <Figure value={c.reduced.split(' ')[0]} places={2} /> {c.reduced.split(' ')[1] ?? ''}
                      </div>
                    )}
                    {c.quantityPrices.map((q) => (
                      <div key={q.from} className="text-xs text-faint">
                        from {show(q.from, form)} at once <Figure value={q.cost} places={2} />
                      </div>
                    ))}
                  </td>
                  <td>{c.currency}</td>
                  <td className="figure">{show(c.packUnits, form)}</td>
                  <td className={holds ? 'bg-warn-ground text-warn' : ''}>
                    {ORIGINS[c.origin]}
                    {c.takenBack ? ', taken back' : ''}
                    {holds ? ', holds against files' : ''}
                  </td>
                  <td className="text-faint">
                    {c.enteredBy}, {moment(c.enteredAt)}
                  </td>
                  <td>
                    {may && c.origin === 'typed' ? (
                      <button type="button" className="text-accent underline" onClick={() => letGo(c.id, !c.released)}>
                        {c.released ? 'hold again' : 'release'}
                      </button>
                    ) : null}
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      ) : null}
      {may && data ? <TypeCost item={item} units={data.findLast((c) => !c.takenBack)?.packUnits ?? '1'} /> : null}
    </>
  );
}

/** Starts from the pack of the last cost: a cost for another pack has to be meant. */
function TypeCost({ item, units }: { item: Pick<ItemRow, 'id' | 'supplier'>; units: string }) {
  const { day } = useDay();
  const { rows: suppliers } = useRegister('suppliers');
  const [supplier, setSupplier] = useState(item.supplier ?? '');
  const [amount, setAmount] = useState('');
  const [reduced, setReduced] = useState('');
  const [quantityPrices, setQuantityPrices] = useState<readonly QuantityPrice[]>([]);
  const [packUnits, setPackUnits] = useState(units);
  const [validFrom, setValidFrom] = useState(day);
  const [validTo, setValidTo] = useState('');
  const [type, { isLoading, error }] = costsApi.useTypeCostMutation();
  const currency = suppliers.find((s) => s.id === supplier)?.currency ?? '';
  const whole = supplier !== '' && amount !== '' && packUnits !== '' && validFrom !== '';
  const body = {
    item: item.id,
    supplier,
    amount,
    reduced: reduced || null,
    quantityPrices: quantityPrices.filter((q) => q.from !== '' && q.cost !== ''),
    currency,
    packUnits,
    validFrom,
    validTo: validTo || null,
    forGroup: true,
  };
  const { proposal, refused } = useCostProposal(whole ? body : null);
  const group = proposal?.group ?? null;
  const submit = async (e: FormEvent) => {
    e.preventDefault();
    try {
      await type({ ...body, forGroup: group !== null }).unwrap();
      setAmount('');
      setReduced('');
      setQuantityPrices([]);
      setValidTo('');
      toast.success(
        group
          ? `The cost is kept for all of “${group}”. It holds against files until it is released.`
          : 'The cost is kept. It holds against files until it is released.',
      );
    } catch {
      /* shown above the form */
    }
  };
  return (
    <form onSubmit={(e) => void submit(e)} className="mt-5 border-t border-rule-strong pt-3">
      {error ? (
        <Trouble>
          {problemOf(error).message} {faultWords(problemOf(error).faults)}
        </Trouble>
      ) : null}
      <div className="flex flex-wrap items-end gap-x-4 gap-y-2">
        <SupplierField value={supplier} onValue={setSupplier} className="w-48" />
        <Field label={`Cost per cost pack${currency ? `, ${currency}` : ''}`}>
          <NumberInput value={amount} onValue={setAmount} className="w-28" />
        </Field>
        <Field label="Reduced for now">
          <NumberInput value={reduced} onValue={setReduced} className="w-24" />
        </Field>
        <Field label="Units in the cost pack">
          <NumberInput value={packUnits} onValue={setPackUnits} className="w-24" />
        </Field>
        <Field label="Counts from" group>
          <DateField label="Counts from" value={validFrom} onValue={setValidFrom} />
        </Field>
        <Field label={reduced === '' ? 'Last day' : 'Reduced until'} group>
          <DateField label="Last day" value={validTo} onValue={setValidTo} />
        </Field>
        <QuantityPrices value={quantityPrices} onValue={setQuantityPrices} />
        <Button type="submit" weight="main" disabled={isLoading || !whole}>
          {group ? `Type this cost for all ${proposal!.members.length}` : 'Type this cost'}
        </Button>
      </div>
      {refused ? <Trouble>{refused}</Trouble> : null}
      {proposal && whole ? <ProposedCost proposal={proposal} after={body} /> : null}
    </form>
  );
}
