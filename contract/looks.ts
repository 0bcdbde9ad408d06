import { compareNumbers } from './filters.ts';
import type { ListPriceRow } from './list-row.ts';

/** Which rows a look shows. */
export const LOOKS = {
  all: { title: 'all', fits: () => true },
  changed: {
    title: 'differ from posted',
    fits: (r: ListPriceRow) => r.posted !== null && r.proposed !== null && compareNumbers(r.posted, r.proposed) !== 0,
  },
  new: { title: 'not posted yet', fits: (r: ListPriceRow) => r.posted === null && r.proposed !== null },
  bit: { title: 'a guard bit', fits: (r: ListPriceRow) => r.flag !== null },
  held: { title: 'held', fits: (r: ListPriceRow) => r.flag === 'floor_above_ceiling' },
  dated: { title: 'only for some days', fits: (r: ListPriceRow) => r.dated !== null },
  inherited: { title: 'inherited', fits: (r: ListPriceRow) => r.source === 'parent' },
  hand: { title: 'typed', fits: (r: ListPriceRow) => r.handSet !== null },
  ending: { title: 'posted until a day', fits: (r: ListPriceRow) => r.lastDay !== null },
  loss: { title: 'below cost', fits: (r: ListPriceRow) => r.marginBefore?.startsWith('-') ?? false },
  without: { title: 'without a price', fits: (r: ListPriceRow) => r.proposed === null },
} as const;
export type Look = keyof typeof LOOKS;

/** Those that need no look at costs. */
export const OPEN_LOOKS: readonly Look[] = ['all', 'dated', 'inherited', 'hand', 'ending'];
