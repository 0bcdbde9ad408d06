import { type Dec, dec, roundHalfUp } from '#core/numbers/decimal.ts';
import { Dice } from '#core/numbers/dice.ts';

interface Row {
  code: string;
  name: string;
  cost: Dec;
  packUnits: string;
}

/** How the demo's suppliers head their columns. */
export const HEADER = 'Article,Description,Net price per drum,Metres per drum,Currency,Valid from';

/** A rope supplier's cost sheet as it might really arrive: most rows are fine, some are not. */
export function waitingSheet(items: readonly Row[], validFrom: string): string {
  const dice = new Dice(4711);
  const lines = [HEADER];
  const line = (code: string, name: string, cost: string, units: string, currency = 'GBP') =>
    lines.push([code, `"${name.replaceAll('"', '""')}"`, cost, units, currency, validFrom].join(','));
  items.forEach((i, n) => {
    const moved = roundHalfUp(i.cost.times(dec((98 + dice.next() * 7).toFixed(1))).div(100), 2);
    if (n === 4)
      line(i.code, i.name, moved.div(10).toFixed(3), i.packUnits); // a shifted decimal mark
    else if (n === 9)
      line(i.code, i.name, moved.toFixed(2), i.packUnits, 'EUR'); // another currency
    else if (n === 14)
      line(i.code, i.name, roundHalfUp(moved.times(100).div(i.packUnits), 2).toFixed(2), '100'); // another pack size
    else if (n === 19)
      line(i.code, i.name, '', i.packUnits); // no cost
    else if (n === 24)
      line(i.code, i.name, `-${moved.toFixed(2)}`, i.packUnits); // below zero
    else if (n === 29)
      line(i.code, i.name, i.cost.toFixed(2), i.packUnits); // unchanged
    else if (n === 34) {
      line(i.code, i.name, moved.toFixed(2), i.packUnits);
      line(i.code, i.name, moved.plus(3).toFixed(2), i.packUnits); // twice, and not the same
    } else line(i.code, n === 40 ? `${i.name}\n(new reel)` : i.name, moved.toFixed(2), i.packUnits);
  });
  line('KE9001', 'Braided line 18 mm, white', '482.75', '220'); // a code nobody knows
  line('KE9002', 'Braided line 18 mm, navy', '482.75', '220');
  line('KE9003', 'Splicing fid, hollow', 'on request', '1'); // not a number
  return `${lines.join('\r\n')}\r\n`;
}
