import { expect, it } from 'vitest';
import { plain } from '../numbers/decimal.ts';
import { billTotal, lineTotal } from './bill-total.ts';

it('a bill comes to its goods less what was sent back; a corrected price is no delivery', () => {
  const lines = [
    { kind: 'goods', quantity: '3', price: '0.1' },
    { kind: 'return', quantity: '1', price: '0.1' },
    { kind: 'correction', quantity: '5', price: '99.99' },
  ] as const;
  expect(plain(billTotal(lines))).toBe('0.2');
  expect(lines.map((l) => lineTotal(l)?.toFixed() ?? null)).toEqual(['0.3', '-0.1', null]);
  expect(plain(billTotal([]))).toBe('0');
});
