import {
  BookOpenText,
  CalendarCheck,
  CircleHelp,
  ClipboardList,
  Coins,
  FileText,
  ListChecks,
  ListOrdered,
  NotebookPen,
  Package,
  Ruler,
  TrendingDown,
  Truck,
} from 'lucide-react';
import { PLACES as TABLE, type Place as Known, type PlaceAddress } from '#contract/places.ts';

export { ASIDE } from '#contract/places.ts';

export interface Place extends Known {
  readonly Icon: typeof Coins;
}

const ICONS: Readonly<Record<PlaceAddress, typeof Coins>> = {
  '/today': CalendarCheck,
  '/costs': Coins,
  '/suppliers': Truck,
  '/items': Package,
  '/recipes': NotebookPen,
  '/ladders': Ruler,
  '/lists': ListOrdered,
  '/worksheets': ClipboardList,
  '/falls': TrendingDown,
  '/findings': ListChecks,
  '/quotes': FileText,
  '/price-check': CircleHelp,
  '/ledger': BookOpenText,
};

/** The places in the order of the work: rail, shortcuts and search are made from the one table. */
export const PLACES: readonly Place[] = TABLE.map((place) => ({ ...place, Icon: ICONS[place.to] }));
