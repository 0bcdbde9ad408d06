import { keptLists } from '../lists/kept-lists.ts';
import { breakTableRows, floorRows } from '../quotes/rule-rows.ts';
import { categoryRows, customerRows, groupRows, rateRows, supplierRows, taxRows } from '../setup/rows.ts';

/** Where the records of a workspace stand that have tables of their own, each after those that it needs. */
export const MEMBER_ROWS = {
  categories: categoryRows,
  suppliers: supplierRows,
  taxes: taxRows,
  rates: rateRows,
  groups: groupRows,
  customers: customerRows,
  lists: keptLists,
  breaks: breakTableRows,
  floors: floorRows,
} as const;
