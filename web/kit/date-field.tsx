import { CalendarDays } from 'lucide-react';
import { Popover } from 'radix-ui';
import { useEffect, useRef, useState } from 'react';
import { DayPicker } from 'react-day-picker';
import { useNumberForm } from '../frame/preferences.ts';
import { Input } from './controls.tsx';
import { readDay, showDay, typedText, unreadable } from './number-form.ts';

/** A calendar day without a zone, as the calendar counts them; and back. */
const asDate = (iso: string) => {
  const [y, m, d] = iso.split('-').map(Number);
  return new Date(y!, m! - 1, d);
};
const asIso = (d: Date) =>
  `${d.getFullYear()}-${String(d.getMonth() + 1).padStart(2, '0')}-${String(d.getDate()).padStart(2, '0')}`;
const isIso = (text: string) => /^\d{4}-\d{2}-\d{2}$/.test(text);

const PARTS = {
  root: 'relative p-2 text-sm',
  nav: 'absolute top-2 right-2 flex gap-2',
  button_previous: 'border border-rule-strong px-1 disabled:opacity-45',
  button_next: 'border border-rule-strong px-1 disabled:opacity-45',
  chevron: 'size-4 fill-current',
  month_caption: 'pb-2 font-medium',
  weekday: 'w-8 pb-1 text-xs font-normal text-faint',
  day: 'p-0 text-center',
  day_button: 'figure h-7 w-8 !text-center hover:bg-chosen',
  today: 'font-semibold underline underline-offset-4',
  selected: 'bg-accent text-on-accent',
  outside: 'text-faint',
};

/**
 * A day in the reader's own form, typed or picked; what is handed on is the ISO day. What cannot be read stays as typed,
 * is told in words, and is handed on marked as unreadable, so that it can nowhere be kept.
 */
export function DateField({
  value,
  onValue,
  label,
  name,
  from,
  whenLeft = false,
  className = 'w-32',
}: {
  value: string;
  onValue: (value: string) => void;
  /** Where no label stands around it. */
  label?: string;
  name?: string;
  /** The first day that may be chosen. */
  from?: string;
  /** Hands on only what was finished: by Enter, by leaving the field, by picking. */
  whenLeft?: boolean;
  className?: string;
}) {
  const form = useNumberForm();
  const [typed, setTyped] = useState<string | null>(null);
  const [open, setOpen] = useState(false);
  const input = useRef<HTMLInputElement>(null);
  const left = typedText(value);
  const shown = typed ?? left ?? (isIso(value) ? showDay(value, form) : value);
  const found = typed !== null || left !== null ? readDay(shown, form) : null;
  const early = from && found?.ok && isIso(found.value) && found.value < from;
  const message = found && !found.ok ? found.message : early ? `must not be before ${showDay(from, form)}` : '';
  useEffect(() => input.current?.setCustomValidity(message), [message]);
  const hand = (text: string) => {
    const now = readDay(text, form);
    if (now.ok || !whenLeft) onValue(now.ok ? now.value : unreadable(text));
  };
  const settle = () => {
    if (message !== '' || typed === null) return;
    if (whenLeft) hand(typed);
    setTyped(null);
  };
  const chosen = isIso(value) ? asDate(value) : undefined;
  return (
    <>
      <span className="relative inline-flex items-center self-start">
        <Input
          ref={input}
          name={name}
          aria-label={label}
          className={`figure !text-left ${className} pr-7`}
          placeholder={form === 'comma' ? 'dd.mm.yyyy' : 'dd/mm/yyyy'}
          value={shown}
          invalid={message !== ''}
          title={message || undefined}
          onChange={(e) => {
            setTyped(e.target.value);
            if (!whenLeft) hand(e.target.value);
          }}
          onKeyDown={(e) => {
            if (e.key === 'Enter' && whenLeft) settle();
            if (e.key !== 'ArrowDown' || !e.altKey) return;
            e.preventDefault();
            setOpen(true);
          }}
          onBlur={settle}
        />
        <Popover.Root open={open} onOpenChange={setOpen}>
          <Popover.Trigger
            type="button"
            aria-label={`Pick a day${label ? `: ${label}` : ''}`}
            className="absolute right-0.5 p-1 text-faint hover:text-ink"
          >
            <CalendarDays size={16} strokeWidth={1.6} aria-hidden />
          </Popover.Trigger>
          <Popover.Portal>
            <Popover.Content
              align="start"
              sideOffset={4}
              aria-label="Calendar"
              className="z-[60] border border-rule-strong bg-sheet"
            >
              <DayPicker
                mode="single"
                autoFocus
                showOutsideDays
                weekStartsOn={1}
                classNames={PARTS}
                selected={chosen}
                defaultMonth={chosen}
                disabled={from ? { before: asDate(from) } : undefined}
                onSelect={(day) => {
                  if (day) {
                    setTyped(null);
                    onValue(asIso(day));
                  }
                  setOpen(false);
                }}
              />
            </Popover.Content>
          </Popover.Portal>
        </Popover.Root>
      </span>
      {message ? (
        <span role="alert" className="block text-xs whitespace-normal text-stop">
          {message}
        </span>
      ) : null}
    </>
  );
}
