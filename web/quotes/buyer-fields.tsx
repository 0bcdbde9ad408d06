import type { QuoteBody } from '#contract/quotes.ts';
import { Field, Input } from '../kit/controls.tsx';
import { DateField } from '../kit/date-field.tsx';
import { CountryChooser, SuggestedText } from '../records/choosers.tsx';
import { RecordOne } from '../records/record-picker.tsx';
import { useRegister } from '../records/use-register.ts';

/** Who buys, where the goods go, which list answers and until when. */
export function BuyerFields({
  body,
  onBody,
  listHint,
  regionName,
  editable,
}: {
  body: QuoteBody;
  onBody: (more: Partial<QuoteBody>) => void;
  listHint: string | null;
  /** The region found by the country. */
  regionName: string | null;
  editable: boolean;
}) {
  const { rows: regions } = useRegister('regions');
  return (
    <fieldset disabled={!editable} className="my-2 flex flex-wrap gap-x-5 gap-y-2">
      <Field label="Customer" group>
        <RecordOne
          register="customers"
          label="Customer"
          value={body.customer || null}
          onValue={(customer) => onBody({ customer: customer ?? '' })}
          className="w-52"
        />
      </Field>
      <Field label="Goods go to" group hint={regionName ? `region ${regionName}` : 'empty: the customer’s country'}>
        <CountryChooser value={body.country} label="Goods go to" onValue={(country) => onBody({ country })} />
      </Field>
      {regions.length > 0 ? (
        <Field label="Region by hand" group>
          <RecordOne
            register="regions"
            label="Region by hand"
            none="by its country"
            value={body.region ?? null}
            onValue={(region) => onBody({ region, regionReason: region ? body.regionReason : null })}
            className="w-40"
          />
        </Field>
      ) : null}
      {body.region ? (
        <Field label="Why that region">
          <Input
            name="regionReason"
            value={body.regionReason ?? ''}
            onChange={(e) => onBody({ regionReason: e.target.value || null })}
          />
        </Field>
      ) : null}
      <Field label="Channel" group className="w-32">
        <SuggestedText
          of="channels"
          value={body.channel ?? ''}
          label="Channel"
          onValue={(channel) => onBody({ channel: channel || null })}
        />
      </Field>
      <Field label="Price list" group hint={listHint}>
        <RecordOne
          register="lists"
          label="Price list"
          none="the customer’s own"
          value={body.list ?? null}
          onValue={(list) => onBody({ list, listReason: list ? body.listReason : null })}
          className="w-44"
        />
      </Field>
      {body.list ? (
        <Field label="Why another list">
          <Input
            name="listReason"
            value={body.listReason ?? ''}
            onChange={(e) => onBody({ listReason: e.target.value || null })}
          />
        </Field>
      ) : null}
      <Field label="Valid until" group>
        <DateField
          name="validUntil"
          label="Valid until"
          value={body.validUntil ?? ''}
          onValue={(day) => onBody({ validUntil: day || null })}
        />
      </Field>
      <Field label="Note on the quote" className="min-w-40 flex-1">
        <Input name="note" value={body.note} onChange={(e) => onBody({ note: e.target.value })} />
      </Field>
    </fieldset>
  );
}
