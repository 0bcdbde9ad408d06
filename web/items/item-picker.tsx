import { useMemo, useState } from 'react';
import type { NamedItem } from '#contract/items.ts';
import { Picker } from '../kit/picker.tsx';
import { itemsApi } from './endpoints.ts';

const NONE: NamedItem[] = [];

/** Finds an item among however many: the server looks, by words of code and name, or by a barcode, which names one of its packs. */
export function ItemPicker({
  onPick,
  label,
  className,
}: {
  /** With the pack that was scanned, or else the first. */
  onPick: (item: NamedItem, pack: string) => void;
  label: string;
  className?: string;
}) {
  const [text, setText] = useState('');
  const { currentData, isFetching } = itemsApi.useItemsFoundQuery(text, { skip: text.trim() === '' });
  const found = text.trim() === '' ? NONE : (currentData ?? NONE);
  const choices = useMemo(() => found.map((item) => ({ id: item.id, code: item.sku, name: item.name, item })), [found]);
  return (
    <Picker
      of={choices}
      label={label}
      onText={setText}
      searching={isFetching || (text.trim() !== '' && !currentData)}
      onPick={({ item }, typed) => {
        const code = typed.replace(/[\s-]/g, '');
        const pack = item.packs.find((p) => p.barcode === code) ?? item.packs[0];
        onPick(item, pack!.id);
      }}
      {...(className ? { className } : {})}
    />
  );
}
