import { Dec } from '#core/numbers/decimal.ts';

/** What a spreadsheet shows of a number; the digits behind come of how it keeps fractions. */
const DIGITS = 15;

/** A number as it stands in a workbook (0.28999999999999998, 1E-3), as the person typed it there: 0.29, 0.001. */
export function workbookNumber(text: string): string {
  if (!/^[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d{1,3})?$/i.test(text)) return text;
  return new Dec(text).toSignificantDigits(DIGITS).toFixed();
}

/** A day and time as a day; midnight, UTC, is how a workbook's days come. */
export const workbookDay = (at: Date): string => at.toISOString().slice(0, 10);
