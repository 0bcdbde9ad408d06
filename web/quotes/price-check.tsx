import { useState } from 'react';
import type { NamedItem } from '#contract/items.ts';
import type { PriceCheck as Checked } from '#contract/quotes.ts';
import { ItemPicker } from '../items/item-picker.tsx';
import { quotesApi } from './endpoints.ts';
import { problemOf } from '../api.ts';
import { StepsList } from '../buildup/steps-list.tsx';
import { useDay } from '../frame/day.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { Button, Empty, Field, Trouble, ViewHead } from '../kit/controls.tsx';
import { Select } from '../kit/select.tsx';
import { Figure } from '../kit/figure.tsx';
import { show } from '../kit/number-form.ts';
import { NumberInput } from '../kit/number-input.tsx';
import { AddressCountry } from './address-country.tsx';
import { CountryChooser, OneChooser, SuggestedText } from '../records/choosers.tsx';
import { LineWords, hasWords } from './line-words.tsx';
import { useSignedIn } from '../people/use-me.ts';
import { ProofDialog } from './proof-dialog.tsx';

/** What would this buyer pay for that item, on the day at the top, and why. */
export function PriceCheck() {
  const { day } = useDay();
  const [customer, setCustomer] = useState<string | null>(null);
  const [group, setGroup] = useState<string | null>(null);
  const [country, setCountry] = useState<string | null>(null);
  const [channel, setChannel] = useState('');
  const [item, setItem] = useState<NamedItem | null>(null);
  const [pack, setPack] = useState('');
  const [quantity, setQuantity] = useState('1');
  const [proving, setProving] = useState(false);
  const me = useSignedIn();
  const ready = item !== null && /^\d+(\.\d+)?$/.test(quantity);
  const { currentData: found, error } = quotesApi.usePriceCheckQuery(
    { customer, group, country, channel: channel.trim() || null, item: item?.id ?? '', pack, quantity, day },
    { skip: !ready },
  );
  return (
    <>
      <ViewHead title="Price check" about="What anyone would pay, on the day at the top, and why.">
        {found && item && me.rights.has('edit_rules') && me.rights.has('see_cost') ? (
          <Button onClick={() => setProving(true)}>Keep as a proof</Button>
        ) : null}
      </ViewHead>
      {proving && found && item ? (
        <ProofDialog
          check={{ customer, group, country, channel: channel.trim() || null, item: item.id, pack, quantity, day }}
          found={found}
          name={`${item.sku}, ${found.figures.lines[0]!.packName}`}
          onClose={() => setProving(false)}
        />
      ) : null}
      <div className="min-h-0 flex-1 overflow-auto px-5 py-4">
        <div className="flex flex-wrap items-end gap-x-5 gap-y-3">
          <Field label="Customer" group>
            <OneChooser to="customers" label="Customer" value={customer} onValue={setCustomer} />
          </Field>
          <Field label="or as a member of the group" group>
            <OneChooser to="groups" label="Group" value={group} onValue={setGroup} />
          </Field>
          <Field label="Goods go to" group>
            <CountryChooser label="Country" value={country} onValue={setCountry} />
          </Field>
          {country === null ? <AddressCountry onCountry={setCountry} /> : null}
          <Field label="Through the channel" group className="w-36">
            <SuggestedText of="channels" label="Channel" value={channel} onValue={setChannel} />
          </Field>
        </div>
        <div className="mt-3 flex flex-wrap items-end gap-x-5 gap-y-3">
          <Field label="Item" group>
            <ItemPicker label="Item: code or name" onPick={(i, pack) => (setItem(i), setPack(pack))} />
          </Field>
          {item ? (
            <Field label="Pack">
              <Select
                value={pack}
                onValue={(chosen) => setPack(chosen)}
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
        {!ready ? (
          <Empty>
            Choose an item; and a customer, a group or a country, where the price is not for anybody who comes.
          </Empty>
        ) : null}
        {found && item ? <Answer found={found} item={item} /> : null}
      </div>
    </>
  );
}

function Answer({ found, item }: { found: Checked; item: NamedItem }) {
  const form = useNumberForm();
  const me = useSignedIn();
  const { figures } = found;
  const line = figures.lines[0]!;
  return (
    <div className="mt-5 flex flex-wrap items-start gap-x-10 gap-y-5">
      <section className="w-full max-w-xl">
        <h2>
          {item.name}{' '}
          <span className="font-normal text-faint">
            {item.sku}
            {found.list ? `, on ${found.list.name}` : ''}, {figures.currency}, tax {figures.taxIn ? 'in' : 'out'}
            {found.region ? `, to ${found.region}` : ''}
          </span>
        </h2>
        {line.reason ? (
          <Trouble tone="warn">{line.reason}</Trouble>
        ) : (
          <>
            <p className="my-3 text-2xl">
              <Figure value={line.unitPrice} places={2} className="!text-2xl" final />{' '}
              <span className="text-base text-faint">
                {figures.currency} {line.packName === 'each' ? 'each' : `per ${line.packName}`}
              </span>
            </p>
            {line.quantity !== '1' || figures.charges.length > 0 ? (
              <p className="mb-2">
                {show(line.quantity, form)} {line.packName}: <Figure value={line.total} places={2} />
                {figures.charges.map((c) => (
                  <span key={c.name}>
                    , {c.name} <Figure value={c.total} places={2} />
                  </span>
                ))}
              </p>
            ) : null}
            {hasWords(line) ? (
              <div className="mb-2 text-sm">
                <LineWords line={line} currency={figures.currency} />
              </div>
            ) : null}
            <StepsList steps={line.steps} places={2} links={me.rights.has('see_cost')} />
          </>
        )}
        {found.behind?.length ? (
          <>
            <h2 className="mt-5 border-b border-rule-strong pb-1">How the posted price was made</h2>
            <StepsList steps={found.behind} places={2} links />
          </>
        ) : null}
      </section>
      <section className="max-w-md min-w-72">
        <h2>Which list</h2>
        <table className="ruled mt-1 w-full">
          <tbody>
            {found.candidates.map((c) => (
              <tr key={c.name} className={c.wins ? 'bg-chosen font-medium' : ''}>
                <td>{c.wins ? c.name : <s>{c.name}</s>}</td>
                <td className={c.wins ? '' : 'text-faint'}>{c.why}</td>
              </tr>
            ))}
            {found.leftOut.map((c) => (
              <tr key={`out ${c.name}`} className="text-faint">
                <td>{c.name}</td>
                <td>{c.why}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </section>
    </div>
  );
}
