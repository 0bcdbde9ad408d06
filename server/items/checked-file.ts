import type { Page } from '../costs/workbook.ts';
import type { ItemFileCheck, ItemFileFault, ItemFileRow } from '#contract/item-file.ts';
import type { Stored } from '../setup/stored.ts';
import type { ItemBody } from './item-body.ts';

/** How numbers of a text file are written; of a workbook they are numbers. */
export type Decimal = ',' | '.';

export interface ItemFile {
  readonly content: Buffer;
  readonly pages: readonly Page[] | null;
  /** Null: as most of its cells are written. */
  readonly decimal: Decimal | null;
}

export interface CheckedItemFile extends ComparedFile {
  readonly state: string;
  readonly decimal: Decimal;
}

export interface ComparedFile extends Pick<ItemFileCheck, 'unknown' | 'counts' | 'byColumn'> {
  readonly faults: ItemFileFault[];
  readonly rows: ItemFileRow[];
  /** What would be written, in the order of `rows`; `before`: what is kept, null: it is new. */
  readonly writes: { readonly body: ItemBody; readonly before: (ItemBody & Stored) | null }[];
}
