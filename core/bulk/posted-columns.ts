import type { Prepared } from '../workspace/prepared.ts';
import type { PriceList } from '../lists/price-list.ts';
import type { ItemColumns } from './columns.ts';

/** Posted prices of a list in force on a day, a row for each of the columns: exact, as digits and where their point stands. */
export interface PostedColumns {
  /** The price without its point; NaN: none; infinite: more digits than a double holds. */
  readonly digits: Float64Array;
  /** How many of the digits stand behind the point; `TAKEN_OFF` without digits: the item was taken off the list. */
  readonly places: Uint8Array;
  /** 1: typed, and still in force. */
  readonly handSet: Uint8Array;
}

export function emptyPosted(rows: number): PostedColumns {
  return {
    digits: new Float64Array(rows).fill(NaN),
    places: new Uint8Array(rows),
    handSet: new Uint8Array(rows),
  };
}

/** In the place of decimals: nothing is asked for on this list, also where its recipe would make a price. */
export const TAKEN_OFF = 255;

/** Whole numbers up to here, and ten of them, are exact doubles. */
const MOST_DIGITS = 2 ** 52;

/** Puts a price, written without exponent, into a row. Zeros at the end of its decimals are no digits. */
export function putPosted(into: PostedColumns, row: number, price: string, handSet: boolean): void {
  const point = price.indexOf('.');
  let end = price.length;
  if (point >= 0) {
    while (price.charCodeAt(end - 1) === 48) end--;
    if (end === point + 1) end = point;
  }
  const digits = Number(
    point >= 0 && end > point ? price.slice(0, point) + price.slice(point + 1, end) : price.slice(0, end),
  );
  into.digits[row] = digits < MOST_DIGITS ? digits : Infinity;
  into.places[row] = point >= 0 && end > point ? end - point - 1 : 0;
  into.handSet[row] = handSet ? 1 : 0;
}

/** Those that a workspace holds. */
export function postedColumns(ws: Prepared, list: PriceList, columns: ItemColumns): PostedColumns {
  const out = emptyPosted(columns.rows.length);
  if (!ws.hasPosted) return out;
  const { day } = columns;
  columns.rows.forEach(({ item, pack }, i) => {
    const followed = ws.followed(ws.items.get(item)!);
    const posted = ws.postingOn(list.id, followed.id, pack, day);
    if (!posted) return;
    if (posted.price === null) out.places[i] = TAKEN_OFF;
    else putPosted(out, i, posted.price, !!posted.handSet);
  });
  return out;
}

/** The most decimals that a posted price of the list has. */
export function postedPlaces(posted: PostedColumns): number {
  let most = 0;
  for (const places of posted.places) if (places > most && places !== TAKEN_OFF) most = places;
  return most;
}

/** The prices as the doubles nearest to them; NaN: none, infinite: one with more digits than a double holds. */
export function amountsOf(posted: PostedColumns): Float64Array {
  return posted.digits.map((digits, i) => digits / 10 ** posted.places[i]!);
}
