import { expect, it } from 'vitest';
import { workbookNumber } from './workbook-cell.ts';

it.each([
  ['0.28999999999999998', '0.29'],
  ['1E-3', '0.001'],
  ['1.2e+3', '1200'],
  ['214.5', '214.5'],
  ['123456789012345', '123456789012345'],
  // no number: left as it is
  ['12,5', '12,5'],
])('a cost that a workbook keeps as %s is %s, as it was typed there', (kept, typed) =>
  expect(workbookNumber(kept)).toBe(typed),
);
