import { Input } from '../kit/controls.tsx';
import { NumberInput } from '../kit/number-input.tsx';

export interface Amount {
  readonly amount: string;
  readonly currency: string;
}

/** An amount with its currency. */
export function AmountField({
  value,
  label,
  name,
  onValue,
}: {
  value: Amount | null;
  label: string;
  name: string;
  onValue: (value: Amount | null) => void;
}) {
  const put = (amount: string, currency: string) =>
    onValue(amount === '' && currency === '' ? null : { amount, currency });
  return (
    <span className="flex items-center gap-1.5">
      <NumberInput
        name={`${name}.amount`}
        aria-label={`${label}, amount`}
        className="w-24"
        value={value?.amount ?? ''}
        onValue={(t) => put(t, value?.currency ?? '')}
      />
      <Input
        name={`${name}.currency`}
        aria-label={`${label}, currency`}
        placeholder="EUR"
        maxLength={3}
        className="w-16"
        value={value?.currency ?? ''}
        onChange={(e) => put(value?.amount ?? '', e.target.value.toUpperCase())}
      />
    </span>
  );
}
