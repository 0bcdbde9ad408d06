import { type Dec, ZERO, dec, divide, max, share } from '../numbers/decimal.ts';

/** What can be done to the price of goods without naming a price; values of 0 or more, but for `percent_more` and `amount_more`. */
export const GOODS_CHANGES = [
  'percent_off',
  'amount_off',
  'percent_more',
  'amount_more',
  'multiply',
  'divide',
] as const;
export type GoodsChange = (typeof GOODS_CHANGES)[number];

/** The goods after a change, the deposit left aside; an amount off stops at 0. Per cent, a factor, or an amount in the goods' own currency. */
export function goodsAfter(change: GoodsChange, value: Dec, goods: Dec): Dec {
  switch (change) {
    case 'percent_off':
      return goods.minus(goods.times(share(value)));
    case 'amount_off':
      return max(goods.minus(value), ZERO);
    case 'percent_more':
      return goods.plus(goods.times(share(value)));
    case 'amount_more':
      return goods.plus(value);
    case 'multiply':
      return goods.times(value);
    case 'divide':
      return divide(goods, value);
  }
}

/** A price with its deposit in it, after a change of its goods. */
export function priceAfter(change: GoodsChange, value: string, price: Dec, deposit: Dec): Dec {
  return goodsAfter(change, dec(value), price.minus(deposit)).plus(deposit);
}
