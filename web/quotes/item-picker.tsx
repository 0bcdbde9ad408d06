import { useMemo } from 'react';
import type { ItemRow } from '#contract/items.ts';
import { Picker } from '../kit/picker.tsx';

/** Finds an item by a few letters of its code or name, or by a barcode: that names one of its packs. */
export function ItemPicker({
  items,
  onPick,
  label,
}: {
  items: readonly ItemRow[];
  /** With the pack that was scanned, or else the first. */
  onPick: (item: ItemRow, pack: string) => void;
  label: string;
}) {
  const choices = useMemo(
    () =>
      items.map((item) => ({
        id: item.id,
        code: item.sku,
        name: item.name,
        also: item.packs.flatMap((p) => p.barcode ?? []).join(' '),
        item,
      })),
    [items],
  );
  return (
    <Picker
      of={choices}
      label={label}
      onPick={({ item }, typed) => {
        const code = typed.replace(/[\s-]/g, '');
        const pack = item.packs.find((p) => p.barcode === code) ?? item.packs[0];
        onPick(item, pack!.id);
      }}
    />
  );
}
