import type { SheetRow, SheetRows } from '#contract/cost-rows.ts';
import type { SheetView } from '#contract/costs.ts';
import type { Person, Workshop } from './workshop.ts';

/** A sheet with all its rows. */
export type WholeSheet = SheetView & { changes: SheetRow[] };

/** Brings a file of the shop's supplier in; throws what it is refused with. */
export async function receiveFile(
  { shop }: Workshop,
  as: Person,
  content: string | Buffer,
  file = 'costs.csv',
): Promise<{ id: string; byItself: boolean }> {
  const address = `/cost-sheets?supplier=${shop.supplier}&file=${encodeURIComponent(file)}`;
  const made = await as.bytes(address, Buffer.from(content as string));
  if (made.status !== 200) throw new Error(JSON.stringify(made.body));
  return made.body as { id: string; byItself: boolean };
}

export const rowsOf = async (as: Person, id: string, query = 'count=2000'): Promise<SheetRows> =>
  (await as.get(`/cost-sheets/${id}/rows?${query}`)).body as SheetRows;

export async function viewOf(as: Person, id: string): Promise<WholeSheet> {
  const view = (await as.get(`/cost-sheets/${id}`)).body as SheetView;
  return { ...view, changes: (await rowsOf(as, id)).rows };
}

/** Brings a file in and looks at it. */
export const bringFile = async (of: Workshop, as: Person, content: string | Buffer, file?: string) =>
  viewOf(as, (await receiveFile(of, as, content, file)).id);
