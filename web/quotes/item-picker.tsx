import { Popover } from 'radix-ui';
import { type KeyboardEvent, useMemo, useState } from 'react';
import type { ItemRow } from '#contract/items.ts';
import { Input } from '../kit/controls.tsx';

/** Finds an item by a few letters of its code or name; arrows and Enter choose. */
export function ItemPicker({
  items,
  onPick,
  label,
}: {
  items: readonly ItemRow[];
  onPick: (item: ItemRow) => void;
  label: string;
}) {
  const [text, setText] = useState('');
  const [at, setAt] = useState(0);
  const found = useMemo(() => {
    const words = text
      .toLowerCase()
      .split(/\s+/)
      .filter((w) => w !== '');
    return words.length === 0
      ? []
      : items.filter((i) => words.every((w) => `${i.sku} ${i.name}`.toLowerCase().includes(w))).slice(0, 12);
  }, [items, text]);
  const pick = (item: ItemRow | undefined) => {
    if (!item) return;
    onPick(item);
    setText('');
    setAt(0);
  };
  const onKey = (e: KeyboardEvent) => {
    if (!['ArrowDown', 'ArrowUp', 'Enter', 'Escape'].includes(e.key)) return;
    e.preventDefault();
    if (e.key === 'ArrowDown') setAt(Math.min(found.length - 1, at + 1));
    else if (e.key === 'ArrowUp') setAt(Math.max(0, at - 1));
    else if (e.key === 'Enter') pick(found[at]);
    else setText('');
  };
  return (
    <Popover.Root open={found.length > 0}>
      <Popover.Anchor asChild>
        <Input
          role="combobox"
          aria-expanded={found.length > 0}
          aria-controls="item-picker"
          aria-label={label}
          placeholder={label}
          value={text}
          onChange={(e) => (setText(e.target.value), setAt(0))}
          onKeyDown={onKey}
          className="w-80"
        />
      </Popover.Anchor>
      <Popover.Portal>
        <Popover.Content
          align="start"
          onOpenAutoFocus={(e) => e.preventDefault()}
          className="z-30 w-[28rem] border border-rule-strong bg-sheet"
        >
          <ul id="item-picker" role="listbox" aria-label="Items found">
            {found.map((i, n) => (
              <li
                key={i.id}
                role="option"
                aria-selected={n === at}
                className={`flex cursor-default gap-3 px-3 py-1 ${n === at ? 'bg-chosen' : ''}`}
                onPointerDown={(e) => (e.preventDefault(), pick(i))}
              >
                <span className="w-28 shrink-0">{i.sku}</span> <span className="truncate text-faint">{i.name}</span>
              </li>
            ))}
          </ul>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
