import { useState } from 'react';
import { Picker } from '../kit/picker.tsx';
import { todayApi } from '../today/endpoints.ts';

/** Finds an item among however many: the server looks, by code, name or barcode. */
export function ItemSearch({
  label,
  onPick,
  className,
}: {
  label: string;
  onPick: (item: { id: string; sku: string; name: string }) => void;
  className?: string;
}) {
  const [text, setText] = useState('');
  const { currentData = [] } = todayApi.useSearchQuery(text, { skip: text.trim() === '' });
  const found = currentData.filter((f) => f.kind === 'item').map((f) => ({ id: f.id, code: f.detail, name: f.title }));
  return (
    <Picker
      of={found}
      label={label}
      onText={setText}
      onPick={({ id, code, name }) => onPick({ id, sku: code, name })}
      {...(className ? { className } : {})}
    />
  );
}
