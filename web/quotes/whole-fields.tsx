import { useState } from 'react';
import type { QuoteBody } from '#contract/quotes.ts';
import { Button, Field } from '../kit/controls.tsx';
import { Select } from '../kit/select.tsx';
import { NumberInput } from '../kit/number-input.tsx';
import { useNumberForm } from '../frame/preferences.ts';
import { show } from '../kit/number-form.ts';
import { useRegister } from '../records/use-register.ts';

type Whole = Pick<QuoteBody, 'charges' | 'reduction'>;

const KINDS = [
  ['', 'none'],
  ['percent_off', '% off'],
  ['amount_off', 'amount off'],
] as const;

/** Which parts of a quote something is for; none chosen: the whole. */
function Parts({
  label,
  sections,
  value,
  onValue,
}: {
  label: string;
  sections: readonly string[];
  value: readonly string[];
  onValue: (value: string[]) => void;
}) {
  if (sections.length === 0 && value.length === 0) return null;
  return (
    <span role="group" aria-label={`${label}: on`} className="flex flex-wrap items-center gap-x-3">
      <span className="text-xs text-faint">on</span>
      {[...new Set([...sections, ...value])].map((s) => (
        <label key={s} className="flex items-center gap-1 py-1">
          <input
            type="checkbox"
            checked={value.includes(s)}
            onChange={(e) => onValue(e.target.checked ? [...value, s] : value.filter((v) => v !== s))}
          />
          {s}
        </label>
      ))}
      {value.length === 0 ? <span className="text-xs text-faint">(all lines)</span> : null}
    </span>
  );
}

/** What is for the whole of a quote, or for parts of it: a reduction, and charges that are a share of its lines. */
export function WholeFields({
  whole,
  sections,
  onWhole,
  reductionStays,
}: {
  whole: Whole;
  sections: readonly string[];
  onWhole: (more: Partial<Whole>) => void;
  /** Of a change order: the reduction stays as agreed. */
  reductionStays?: boolean;
}) {
  const form = useNumberForm();
  const { rows: charges } = useRegister('charges');
  const { reduction } = whole;
  const left = charges.filter((c) => !whole.charges.some((w) => w.charge === c.id));
  const [adding, setAdding] = useState('');
  const set = (charge: string, more: Partial<QuoteBody['charges'][number]>) =>
    onWhole({ charges: whole.charges.map((c) => (c.charge === charge ? { ...c, ...more } : c)) });
  return (
    <div className="mt-4 flex flex-wrap items-start gap-x-10 gap-y-3">
      {reductionStays ? null : (
        <Field label="Reduction on the whole" group>
          <span className="flex flex-wrap items-center gap-2">
            <Select
              aria-label="Reduction on the whole"
              value={reduction?.kind ?? ''}
              onValue={(chosen) =>
                onWhole({
                  reduction: chosen
                    ? {
                        kind: chosen as 'percent_off',
                        value: reduction?.value ?? '0',
                        sections: reduction?.sections ?? [],
                      }
                    : null,
                })
              }
              options={KINDS}
            />
            {reduction ? (
              <>
                <NumberInput
                  aria-label="Value of the reduction on the whole"
                  className="w-20"
                  value={reduction.value}
                  onValue={(value) => onWhole({ reduction: { ...reduction, value } })}
                />
                <Parts
                  label="Reduction on the whole"
                  sections={sections}
                  value={reduction.sections}
                  onValue={(parts) => onWhole({ reduction: { ...reduction, sections: parts } })}
                />
              </>
            ) : null}
          </span>
        </Field>
      )}
      <Field label="Charges: a share of the lines" group>
        <div className="flex flex-col gap-1">
          {whole.charges.map((c) => {
            const charge = charges.find((x) => x.id === c.charge);
            const name = charge?.name ?? c.charge;
            const period = charge?.period;
            return (
              <span key={c.charge} className="flex flex-wrap items-center gap-2">
                <span>
                  {name} <span className="text-xs text-faint">{show(charge?.percent ?? '', form)} %</span>
                </span>
                {period ? (
                  <>
                    <span className="text-xs text-faint">for</span>
                    <NumberInput
                      aria-label={`${name}: how many ${period}s`}
                      className="w-14"
                      value={c.periods ?? '1'}
                      onValue={(periods) => set(c.charge, { periods })}
                    />
                    <span className="text-xs text-faint">{period}s</span>
                  </>
                ) : null}
                <Parts
                  label={name}
                  sections={sections}
                  value={c.sections}
                  onValue={(parts) => set(c.charge, { sections: parts })}
                />
                <button
                  type="button"
                  aria-label={`Take the charge ${name} away`}
                  className="text-accent"
                  onClick={() => onWhole({ charges: whole.charges.filter((x) => x.charge !== c.charge) })}
                >
                  ×
                </button>
              </span>
            );
          })}
          {left.length > 0 ? (
            <span className="flex items-center gap-2">
              <Select
                aria-label="A charge to add"
                value={adding}
                onValue={(chosen) => setAdding(chosen)}
                options={[['', 'choose …'], ...left.map((c) => [c.id, c.name] as const)]}
              />
              <Button
                disabled={adding === ''}
                onClick={() => {
                  onWhole({ charges: [...whole.charges, { charge: adding, sections: [], periods: null }] });
                  setAdding('');
                }}
              >
                Add the charge
              </Button>
            </span>
          ) : whole.charges.length === 0 ? (
            <span className="text-xs text-faint">none is set up</span>
          ) : null}
        </div>
      </Field>
    </div>
  );
}
