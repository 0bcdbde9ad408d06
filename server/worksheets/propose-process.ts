import { workInProcess } from '../platform/process.ts';
import proposePrices, { type Proposal } from './propose-prices.ts';

/** How far computing a worksheet stands back behind answers. */
const BEHIND = 10;
/** How far the database does, for what it reads and writes for one. */
const DATABASE_BEHIND = 5;

workInProcess(BEHIND, (asked: Proposal) => proposePrices({ ...asked, behind: DATABASE_BEHIND }));
