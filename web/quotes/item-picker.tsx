import { useMemo } from 'react';
import type { ItemRow } from '#contract/items.ts';
import { Picker } from '../kit/picker.tsx';

/** Finds an item by a few letters of its code or name. */
export function ItemPicker({
  items,
  onPick,
  label,
}: {
  items: readonly ItemRow[];
  onPick: (item: ItemRow) => void;
  label: string;
}) {
  const choices = useMemo(() => items.map((item) => ({ id: item.id, code: item.sku, name: item.name, item })), [items]);
  return <Picker of={choices} label={label} onPick={(c) => onPick(c.item)} />;
}
