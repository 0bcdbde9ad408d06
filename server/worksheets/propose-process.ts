import { workInProcess } from '../platform/process.ts';
import proposePrices from './propose-prices.ts';

/** How far computing a worksheet stands back behind answers. */
const BEHIND = 10;

workInProcess(BEHIND, (asked: Parameters<typeof proposePrices>[0]) => proposePrices({ ...asked, behind: BEHIND }));
