import type { QuoteBody } from '#contract/quotes.ts';
import { Field, Input } from '../kit/controls.tsx';
import { Select } from '../kit/select.tsx';
import { DateField } from '../kit/date-field.tsx';
import { CountryChooser, SuggestedText } from '../records/choosers.tsx';
import { RecordOne } from '../records/record-picker.tsx';
import { recordsApi } from '../records/endpoints.ts';

const named = (rows: readonly { id: string; name?: unknown }[]) => rows.map((r) => [r.id, String(r.name)] as const);

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
  const { data: lists = [] } = recordsApi.useRegisterQuery('lists');
  const { data: regions = [] } = recordsApi.useRegisterQuery('regions');
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
        <Field label="Region by hand">
          <Select
            name="region"
            value={body.region ?? ''}
            onValue={(chosen) => onBody({ region: chosen || null, regionReason: chosen ? body.regionReason : null })}
            options={[['', 'by its country'], ...named(regions)]}
            className="w-36"
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
      <Field label="Price list" hint={listHint}>
        <Select
          name="list"
          value={body.list ?? ''}
          onValue={(chosen) => onBody({ list: chosen || null, listReason: chosen ? body.listReason : null })}
          options={[['', 'the customer’s own'], ...named(lists)]}
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
