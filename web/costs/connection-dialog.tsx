import { type FormEvent, useState } from 'react';
import { toast } from 'sonner';
import type { Connection } from '#contract/connections.ts';
import { problemOf } from '../api.ts';
import { Button, Dialog, Field, Input, Trouble } from '../kit/controls.tsx';
import { Select } from '../kit/select.tsx';
import { faultWords } from '../kit/faults.tsx';
import { useNumberForm } from '../frame/preferences.ts';
import { countedIn } from '../kit/words.ts';
import { costsApi } from './endpoints.ts';

const OFTEN = [
  ['1', 'every hour'],
  ['6', 'every 6 hours'],
  ['24', 'every day'],
  ['168', 'every week'],
] as const;

/** Connects a supplier: where its service is, by which account, what of it is followed and how often. */
export function ConnectionDialog({ connection: c, onClose }: { connection: Connection; onClose: () => void }) {
  const { counted } = countedIn(useNumberForm());
  const [address, setAddress] = useState(c.address ?? '');
  const [account, setAccount] = useState(c.account ?? '');
  const [brands, setBrands] = useState<ReadonlySet<string>>(new Set(c.brands));
  const [everyHours, setEveryHours] = useState(String(c.everyHours));
  const [browse, { data: catalogue, isLoading: looking, error: unseen, reset }] = costsApi.useBrowseSupplierMutation();
  const [keep, { isLoading, error }] = costsApi.useKeepConnectionMutation();
  const problem = error ? problemOf(error) : unseen ? problemOf(unseen) : null;
  const go = async (state: 'on' | 'off') => {
    try {
      const kept = await keep({
        id: c.supplier,
        version: c.version,
        address,
        account,
        brands: [...brands],
        everyHours: Number(everyHours),
        state,
      }).unwrap();
      toast.success(state === 'on' ? `${kept.supplierName} is asked now.` : `${kept.supplierName} is asked no more.`);
      onClose();
    } catch {
      /* shown above the form */
    }
  };
  const submit = (e: FormEvent) => {
    e.preventDefault();
    void go('on');
  };
  const shown = catalogue?.brands ?? [...brands].map((name) => ({ name, items: null }));
  return (
    <Dialog open onClose={onClose} title={`Connection of ${c.supplierName}`} wide>
      <form onSubmit={submit} className="flex flex-col gap-4">
        {problem ? (
          <Trouble>
            {problem.message} {faultWords(problem.faults)}
          </Trouble>
        ) : null}
        {c.state === 'asked' ? (
          <p>
            {c.askedBy} asked for it{c.askedNote ? `: ${c.askedNote}` : ''}.
          </p>
        ) : null}
        <div className="grid grid-cols-[1fr_12rem_auto] items-end gap-x-4">
          <Field label="Address of its service">
            <Input
              name="address"
              autoFocus
              value={address}
              onChange={(e) => (setAddress(e.target.value.trim()), reset())}
              placeholder="https://…"
            />
          </Field>
          <Field label="Our account number there">
            <Input name="account" value={account} onChange={(e) => (setAccount(e.target.value.trim()), reset())} />
          </Field>
          <Button
            disabled={looking || address === '' || account === ''}
            onClick={() => void browse({ address, account })}
          >
            {looking ? 'Asking …' : 'See what it offers'}
          </Button>
        </div>
        <fieldset>
          <legend className="text-xs text-faint">
            {catalogue
              ? `${catalogue.supplier}, costs in ${catalogue.currency}: brands that are followed; none chosen means all`
              : 'Brands that are followed; none chosen means all'}
          </legend>
          {shown.length === 0 ? (
            <p className="text-faint">See what it offers to choose among its brands.</p>
          ) : (
            <ul className="mt-1 max-h-72 columns-2 gap-6 overflow-auto">
              {shown.map((b) => (
                <li key={b.name} className="break-inside-avoid py-0.5">
                  <label className="flex items-baseline gap-2">
                    <input
                      type="checkbox"
                      checked={brands.has(b.name)}
                      onChange={(e) => {
                        const next = new Set(brands);
                        if (e.target.checked) next.add(b.name);
                        else next.delete(b.name);
                        setBrands(next);
                      }}
                    />
                    {b.name}
                    {b.items === null ? null : <span className="text-faint">{counted(b.items, 'item')}</span>}
                  </label>
                  <div className="truncate pl-6 text-xs text-faint">
                    {catalogue?.items
                      .filter((i) => i.brand === b.name)
                      .slice(0, 3)
                      .map((i) => i.name)
                      .join('; ')}
                  </div>
                </li>
              ))}
            </ul>
          )}
        </fieldset>
        <Field label="It is asked" className="w-48">
          <Select
            name="everyHours"
            value={everyHours}
            onValue={(chosen) => setEveryHours(chosen)}
            options={
              OFTEN.some(([h]) => h === everyHours) ? OFTEN : [...OFTEN, [everyHours, `every ${everyHours} hours`]]
            }
          />
        </Field>
        <p className="text-faint">
          What it answers waits in the inbox like a file, and is taken in as one. The same as before is no arrival.
        </p>
        <div className="flex justify-end gap-2">
          <Button onClick={onClose}>Cancel</Button>
          {c.state === 'on' ? (
            <Button weight="stop" disabled={isLoading} onClick={() => void go('off')}>
              Stop the connection
            </Button>
          ) : null}
          <Button type="submit" weight="main" disabled={isLoading || address === '' || account === ''}>
            {isLoading ? 'Asking …' : c.state === 'on' ? 'Keep and ask now' : 'Connect'}
          </Button>
        </div>
      </form>
    </Dialog>
  );
}
