import { type FormEvent, useState } from 'react';
import { problemOf } from '../api.ts';
import { Button, Field, Input } from '../kit/controls.tsx';
import { quotesApi } from './endpoints.ts';

/** The country of somebody who comes by an address of the network; what is not known is said. */
export function AddressCountry({ onCountry }: { onCountry: (code: string) => void }) {
  const [address, setAddress] = useState('');
  const [find, { data, isFetching, error }] = quotesApi.useLazyCountryOfQuery();
  const submit = async (e: FormEvent) => {
    e.preventDefault();
    const { data: found } = await find(address.trim());
    if (found?.country) onCountry(found.country);
  };
  const trouble = error
    ? (problemOf(error).faults?.[0]?.message ?? problemOf(error).message)
    : data && data.country === null
      ? `Where ${data.address} is, is not known.`
      : '';
  return (
    <form onSubmit={(e) => void submit(e)} className="flex items-end gap-2">
      <Field label="or from the IP address">
        <Input
          name="address"
          className="w-28"
          title="an address of a network, whose country is looked up"
          value={address}
          invalid={trouble !== ''}
          onChange={(e) => setAddress(e.target.value)}
          placeholder="203.0.113.7"
        />
      </Field>
      <Button type="submit" aria-label="Find its country" disabled={isFetching || address.trim() === ''}>
        Find
      </Button>
      {trouble ? (
        <span role="alert" className="pb-1 text-xs text-stop">
          {trouble}
        </span>
      ) : null}
    </form>
  );
}
