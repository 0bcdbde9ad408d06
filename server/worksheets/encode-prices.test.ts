import fc from 'fast-check';
import { expect, it } from 'vitest';
import { FLAGS, emptyPrices } from '#core/bulk/price-rows.ts';
import { dec } from '#core/numbers/decimal.ts';
import { encodePrices } from './encode-prices.ts';

const whole = fc.oneof(
  fc.integer({ min: 0, max: 100_000 }),
  fc.maxSafeNat().map((n) => n % 2 ** 51),
);
const signed = fc.tuple(whole, fc.boolean()).map(([n, minus]) => (minus ? -n : n));

it('no digit of a figure is lost on its way to the database, and an open row is not written', () => {
  fc.assert(
    fc.property(
      fc.array(fc.record({ price: whole, posted: fc.option(whole), margin: signed, open: fc.boolean() }), {
        maxLength: 5,
      }),
      fc.integer({ min: 0, max: 9 }),
      (rows, places) => {
        const prices = emptyPrices(rows.length, 10 ** places);
        rows.forEach((r, i) => {
          prices.price[i] = r.price;
          prices.margin[i] = r.margin;
          prices.flag[i] = FLAGS.indexOf(r.open ? 'open' : 'none');
        });
        const posted = Float64Array.from(rows, (r) => r.posted ?? NaN);
        const ids = Int32Array.from(rows, (_, i) => 2_000_000_000 + i);
        const names = { worksheet: 7, list: 3, items: ids, packs: ids };
        const { text, open, counts } = encodePrices(prices, posted, names, 0, rows.length);
        const figure = (n: number, decimals: number) => dec(String(n)).div(dec(10).pow(decimals)).toFixed(decimals);
        const expected = rows.flatMap((r, i) => {
          const id = 2_000_000_000 + i;
          const before = r.posted === null ? '\\N' : figure(r.posted, places);
          const head = [7, 3, id, id, before, figure(r.price, places)];
          return r.open ? [] : [[...head, '\\N', figure(r.margin, 2), 0, 0, -1, '\\N', '\\N'].join('\t')];
        });
        expect(Buffer.from(text).toString().split('\n').slice(0, -1)).toEqual(
          expected.map((l) => l.replace(/(?<=\t)-(?=0\.00\t)/, '')),
        );
        expect([...open]).toEqual(rows.flatMap((r, i) => (r.open ? [i] : [])));
        expect(counts.rises + counts.falls + counts.unchanged + counts.first).toBe(expected.length);
      },
    ),
    { numRuns: 2000 },
  );
});
