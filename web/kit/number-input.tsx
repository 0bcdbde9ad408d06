import { type InputHTMLAttributes, useEffect, useRef, useState } from 'react';
import { useNumberForm } from '../frame/preferences.ts';
import { Input } from './controls.tsx';
import { read, show, typedText, unreadable } from './number-form.ts';

/**
 * A number in the reader's own form; what is handed on is plain decimal text. What cannot be read stays as typed, is told
 * in words, and is handed on marked as unreadable, so that it can nowhere be kept: never its readable beginning.
 */
export function NumberInput({
  value,
  onValue,
  className = '',
  invalid = false,
  ...rest
}: Omit<InputHTMLAttributes<HTMLInputElement>, 'value' | 'onChange'> & {
  value: string;
  /** Something else is wrong with it than how it is written. */
  invalid?: boolean;
  onValue: (value: string) => void;
}) {
  const form = useNumberForm();
  const [typed, setTyped] = useState<string | null>(null);
  const input = useRef<HTMLInputElement>(null);
  const left = typedText(value);
  const shown = typed ?? left ?? (/^-?\d+(\.\d+)?$/.test(value) ? show(value, form) : value);
  const found = typed !== null || left !== null ? read(shown, form) : null;
  const message = found && !found.ok ? found.message : '';
  // the form it stands in is not sent either
  useEffect(() => input.current?.setCustomValidity(message), [message]);
  return (
    <>
      <Input
        {...rest}
        ref={input}
        inputMode="decimal"
        className={`figure text-right ${className}`}
        value={shown}
        invalid={invalid || message !== ''}
        title={message || rest.title}
        onChange={(e) => {
          setTyped(e.target.value);
          const now = read(e.target.value, form);
          onValue(now.ok ? now.value : unreadable(e.target.value));
        }}
        onBlur={() => message === '' && setTyped(null)}
      />
      {message ? (
        <span role="alert" className="block text-xs whitespace-normal text-stop">
          {message}
        </span>
      ) : null}
    </>
  );
}
