import { ITEM } from '#contract/records/item.ts';
import { startOf } from '#contract/records/declare.ts';
import { RecordDialog } from '../setup/record-dialog.tsx';
import type { RegisterView } from '../setup/registers.ts';

const VIEW: Omit<RegisterView, 'part'> = {
  name: ITEM.name,
  title: ITEM.title,
  one: ITEM.one,
  about: ITEM.about,
  right: ITEM.readRight,
  changeRight: ITEM.changeRight,
  removable: false,
  start: startOf(ITEM.fields),
  fields: Object.entries(ITEM.fields).map(([name, field]) => ({
    name,
    title: field.title,
    as: { kind: 'declared' as const, field },
  })),
};

/** An item, made or changed. */
export function ItemDialog({
  row,
  onClose,
}: {
  row: (Record<string, unknown> & { id: string; version: number }) | null;
  onClose: () => void;
}) {
  return <RecordDialog view={{ ...VIEW, part: 'Costs' }} row={row} onClose={onClose} />;
}
