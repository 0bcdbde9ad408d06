import { getNonce } from 'get-nonce';
import { Check, ChevronDown } from 'lucide-react';
import { Select as RadixSelect } from 'radix-ui';
import type { SelectHTMLAttributes } from 'react';

type Options = readonly (readonly [value: string, title: string])[];

interface Props {
  readonly options: Options;
  readonly value: string;
  readonly onValue: (value: string) => void;
  readonly name?: string;
  readonly 'aria-label'?: string | undefined;
  readonly className?: string;
  readonly disabled?: boolean;
  readonly invalid?: boolean;
}

/** Nothing is a choice too; the primitive takes no empty value. */
const NOTHING = '\u0000';
const given = (value: string) => value || NOTHING;

/** One of a few: opened by a click, Enter, Space or an arrow; found by its first letters, open or not. */
export function Select({ options, value, onValue, name, className = '', disabled, invalid, ...rest }: Props) {
  return (
    <RadixSelect.Root
      value={options.some(([v]) => v === value) ? given(value) : ''}
      onValueChange={(chosen) => onValue(chosen === NOTHING ? '' : chosen)}
      {...(disabled === undefined ? {} : { disabled })}
    >
      <RadixSelect.Trigger
        aria-label={rest['aria-label']}
        aria-invalid={invalid || undefined}
        data-name={name}
        className={`field flex items-center justify-between gap-2 text-left disabled:opacity-45 ${className}`}
      >
        <span className="min-w-0 truncate">
          <RadixSelect.Value />
        </span>
        <RadixSelect.Icon asChild>
          <ChevronDown size={16} aria-hidden className="shrink-0 text-faint" />
        </RadixSelect.Icon>
      </RadixSelect.Trigger>
      <RadixSelect.Portal>
        <RadixSelect.Content
          position="popper"
          sideOffset={2}
          className="z-60 max-h-[min(24rem,var(--radix-select-content-available-height))] min-w-[var(--radix-select-trigger-width)] overflow-auto border border-rule-strong bg-sheet py-1"
        >
          <RadixSelect.Viewport nonce={getNonce()}>
            {options.map(([v, title]) => (
              <RadixSelect.Item
                key={v}
                value={given(v)}
                data-value={v}
                className="flex cursor-default items-center gap-2 px-2 py-1 outline-none data-[highlighted]:bg-chosen data-[state=checked]:font-medium"
              >
                <span className="w-4 shrink-0">
                  <RadixSelect.ItemIndicator>
                    <Check size={14} aria-hidden />
                  </RadixSelect.ItemIndicator>
                </span>
                <RadixSelect.ItemText>{title}</RadixSelect.ItemText>
              </RadixSelect.Item>
            ))}
          </RadixSelect.Viewport>
        </RadixSelect.Content>
      </RadixSelect.Portal>
    </RadixSelect.Root>
  );
}

/** The browser's own, for the cells of long tables, where it is quicker. */
export function CellSelect({
  options,
  className = '',
  onValue,
  ...rest
}: Omit<SelectHTMLAttributes<HTMLSelectElement>, 'onChange'> & {
  options: Options;
  onValue: (value: string) => void;
}) {
  return (
    <select {...rest} className={`field ${className}`} onChange={(e) => onValue(e.target.value)}>
      {options.map(([value, title]) => (
        <option key={value} value={value}>
          {title}
        </option>
      ))}
    </select>
  );
}
