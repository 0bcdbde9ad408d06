import { Popover } from 'radix-ui';
import { type KeyboardEvent, useEffect, useEffectEvent, useId, useMemo, useState } from 'react';
import { Input } from './controls.tsx';

export interface Pickable {
  readonly id: string;
  readonly code: string | null;
  readonly name: string;
  /** Found by these too, though they are not shown. */
  readonly also?: string;
  /** What tells it from others of its name. */
  readonly detail?: string | null;
}

const MOST_SHOWN = 12;

/** Finds a record by a few letters of its code or name; arrows and Enter choose, Escape puts it away. */
export function Picker<T extends Pickable>({
  of,
  onPick,
  label,
  placeholder = label,
  onText,
  searching = false,
  onLook,
  more = false,
  onNew,
  className = 'w-80',
  autoFocus = false,
}: {
  /** Those that there are; or, where `onText` asks elsewhere, those that were found. */
  of: readonly T[];
  /** What is typed, for whoever looks it up: nothing is sorted out here then. */
  onText?: (text: string) => void;
  /** What was found is not there yet: an Enter waits for it. */
  searching?: boolean;
  /** Somebody looks what there is. */
  onLook?: () => void;
  /** There are more than are shown. */
  more?: boolean;
  /** What is typed can be made where it is not there. */
  onNew?: { readonly title: (text: string) => string; readonly make: (text: string) => void };
  /** With what was typed to find it. */
  onPick: (one: T, typed: string) => void;
  label: string;
  /** Shown while nothing is typed; absent: its label. */
  placeholder?: string;
  className?: string;
  autoFocus?: boolean;
}) {
  const id = useId();
  const [text, setText] = useState('');
  const [open, setOpen] = useState(false);
  const [at, setAt] = useState(0);
  const found = useMemo(() => {
    if (!open) return [];
    if (onText) return of.slice(0, MOST_SHOWN);
    const words = text
      .toLowerCase()
      .split(/\s+/)
      .filter((w) => w !== '');
    const out: T[] = [];
    for (const one of of) {
      const within = `${one.code ?? ''} ${one.name} ${one.also ?? ''}`.toLowerCase();
      if (words.every((w) => within.includes(w))) out.push(one);
      if (out.length === MOST_SHOWN) break;
    }
    return out;
  }, [of, text, open, onText]);
  // a scanner sends its Enter before anything can be found
  const [entered, setEntered] = useState(false);
  const type = (next: string) => {
    setEntered(false);
    setText(next);
    onText?.(next);
  };
  const look = (to: boolean) => {
    if (to) onLook?.();
    setOpen(to);
  };
  const typed = text.trim();
  const fresh =
    onNew && !searching && typed !== '' && !found.some((f) => f.name.toLowerCase() === typed.toLowerCase())
      ? onNew
      : null;
  const last = found.length - (fresh ? 0 : 1);
  const close = () => {
    type('');
    setAt(0);
    setOpen(false);
  };
  const pick = (one: T | undefined) => {
    if (!one) return;
    onPick(one, text);
    close();
  };
  const take = (n: number) => {
    if (fresh && n === found.length) {
      fresh.make(typed);
      close();
    } else pick(found[n]);
  };
  const shown = open && (found.length > 0 || fresh !== null);
  const onKey = (e: KeyboardEvent) => {
    if (!['ArrowDown', 'ArrowUp', 'Enter', 'Escape'].includes(e.key)) return;
    // what is not to be seen is not to be put away
    if (e.key === 'Escape' && !shown) return;
    e.preventDefault();
    e.stopPropagation();
    if (e.key === 'ArrowDown') {
      if (open) setAt(Math.min(last, at + 1));
      look(true);
    } else if (e.key === 'ArrowUp') setAt(Math.max(0, at - 1));
    else if (e.key === 'Enter') searching && text.trim() !== '' ? setEntered(true) : take(at);
    else close();
  };
  const waited = entered && !searching;
  const chosen = useEffectEvent(() => {
    setEntered(false);
    // an Enter that came before anything was found makes nothing new
    pick(found[at]);
  });
  useEffect(() => {
    // whoever picks may want the page drawn at once, which nobody may ask for within an effect
    if (waited) queueMicrotask(() => chosen());
  }, [waited]);
  return (
    <Popover.Root open={shown}>
      <Popover.Anchor asChild>
        <Input
          role="combobox"
          aria-expanded={shown}
          aria-controls={`${id}-list`}
          aria-activedescendant={shown ? `${id}-${at}` : undefined}
          aria-autocomplete="list"
          aria-label={label}
          placeholder={placeholder}
          autoFocus={autoFocus}
          value={text}
          onChange={(e) => (type(e.target.value), setAt(0), look(e.target.value !== ''))}
          onClick={() => look(true)}
          onKeyDown={onKey}
          // an Enter that waits is not lost to whoever goes on
          onBlur={() => (entered ? undefined : close())}
          className={className}
        />
      </Popover.Anchor>
      <Popover.Portal>
        <Popover.Content
          align="start"
          onOpenAutoFocus={(e) => e.preventDefault()}
          className="z-[60] w-[28rem] max-w-[calc(100vw-2rem)] border border-rule-strong bg-sheet"
        >
          <ul id={`${id}-list`} role="listbox" aria-label={label}>
            {found.map((one, n) => (
              <li
                key={one.id}
                id={`${id}-${n}`}
                role="option"
                aria-selected={n === at}
                className={`flex cursor-default gap-3 px-3 py-1 ${n === at ? 'bg-chosen' : ''}`}
                onPointerDown={(e) => (e.preventDefault(), pick(one))}
              >
                {one.code ? <span className="w-28 shrink-0">{one.code}</span> : null}{' '}
                <span className={`truncate ${one.code ? 'text-faint' : ''}`}>{one.name}</span>
                {one.detail ? <span className="ml-auto shrink-0 text-xs text-faint">{one.detail}</span> : null}
              </li>
            ))}
            {fresh ? (
              <li
                id={`${id}-${found.length}`}
                role="option"
                aria-selected={at === found.length}
                className={`cursor-default border-t border-rule px-3 py-1 text-accent ${at === found.length ? 'bg-chosen' : ''}`}
                onPointerDown={(e) => (e.preventDefault(), take(found.length))}
              >
                {fresh.title(typed)}
              </li>
            ) : null}
          </ul>
          {more ? <p className="border-t border-rule px-3 py-1 text-xs text-faint">There are more: type on.</p> : null}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
