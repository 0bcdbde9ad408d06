import { isFigureHeading } from '#contract/item-file.ts';
import { downloadTable } from '../grid/files.ts';

/** Every item as a workbook: the text table the server makes, with its figures as numbers. */
export async function downloadItemsWorkbook(): Promise<void> {
  const answer = await fetch('/api/item-file', { credentials: 'same-origin' });
  if (!answer.ok) throw new Error('the items could not be read');
  await downloadTable('items.xlsx', await answer.text(), isFigureHeading);
}
