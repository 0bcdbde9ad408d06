import { ITEM } from '#contract/records/item.ts';
import { RecordDialog } from '../setup/record-dialog.tsx';
import { viewOf } from '../setup/views.ts';

const VIEW = { ...viewOf(ITEM), removable: false, part: 'Costs' as const };

/** An item, made or changed. */
export function ItemDialog({
  row,
  onClose,
}: {
  row: (Record<string, unknown> & { id: string; version: number }) | null;
  onClose: () => void;
}) {
  return <RecordDialog view={VIEW} row={row} onClose={onClose} />;
}
