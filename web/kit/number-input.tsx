import { type InputHTMLAttributes, useState } from 'react';
import { useNumberForm } from '../frame/preferences.ts';
import { Input } from './controls.tsx';
import { read, show } from './number-form.ts';

/** A number in the reader's own form; what is handed on is plain decimal text. What cannot be read stays as typed, with the reason. */
export function NumberInput({
  value,
  onValue,
  className = '',
  ...rest
}: Omit<InputHTMLAttributes<HTMLInputElement>, 'value' | 'onChange'> & {
  value: string;
  onValue: (value: string) => void;
}) {
  const form = useNumberForm();
  const [typed, setTyped] = useState<string | null>(null);
  const faulty = typed !== null && !read(typed, form).ok;
  return (
    <Input
      {...rest}
      inputMode="decimal"
      className={`figure text-right ${className}`}
      value={typed ?? (/^-?\d+(\.\d+)?$/.test(value) ? show(value, form) : value)}
      invalid={faulty}
      title={faulty && typed !== null ? (read(typed, form) as { message: string }).message : undefined}
      onChange={(e) => {
        setTyped(e.target.value);
        const found = read(e.target.value, form);
        if (found.ok) onValue(found.value);
      }}
      onBlur={() => !faulty && setTyped(null)}
    />
  );
}
