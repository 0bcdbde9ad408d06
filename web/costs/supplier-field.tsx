import { Field } from '../kit/controls.tsx';
import { RecordOne } from '../records/record-picker.tsx';

/** Whose costs these are; '': nobody's yet. */
export function SupplierField({
  value,
  onValue,
  className,
}: {
  value: string;
  onValue: (id: string) => void;
  className: string;
}) {
  return (
    <Field label="Supplier" group>
      <RecordOne
        register="suppliers"
        label="Supplier"
        value={value || null}
        onValue={(id) => onValue(id ?? '')}
        className={className}
      />
    </Field>
  );
}
