import type { ItemColumns } from '#core/bulk/columns.ts';
import type { BulkList } from '#core/bulk/prepare-list.ts';
import type { RawCosts } from './raw-costs.ts';

/**
 * The same steps in plain doubles, as generated code with every constant written into it: fast, and wrong whenever a
 * double is on the wrong side of a decision. What the bulk way is measured against. `raw`: landed costs are made for each
 * list anew; null: taken from the columns, as the bulk way takes them.
 */
export function plainDoubles(
  c: ItemColumns,
  l: BulkList,
  raw: RawCosts | null,
): (out: Float64Array, markup: Float64Array, margin: Float64Array) => void {
  const { uplift: u, ladder: d } = l;
  const n = (value: number) => (value === Infinity ? 'Infinity' : value === -Infinity ? '-Infinity' : String(value));
  const bands: string[] = [];
  for (let r = u.first[0]!; r < u.first[1]!; r++) {
    const from = r === u.first[0] ? '0' : n(u.until[r - 1]!);
    const [factor, plus] = [u.factor[r]!, u.plus[r]!];
    const make = `cost * ${factor}${plus === 0 ? '' : ` + ${plus}`}`;
    bands.push(`if (cost >= ${from} && cost < ${n(u.until[r]!)}) net = ${make};`);
  }
  const half = `price = Math.floor(price / ${d.unit} + 0.5) * ${d.unit};`;
  const rungs: string[] = [];
  for (let r = 0; r < d.from.length; r++) {
    const [start, end, step] = [d.first[r]!, d.first[r + 1]!, d.step[r]!];
    const find = [
      `const base = Math.floor(price / ${step}) * ${step};`,
      `let below = base - ${step} + ${d.ending[end - 1]!}, above = base + ${d.ending[start]!}, within = ${d.downWithin[end - 1]!}, from = ${d.upFrom[end - 1]!};`,
    ];
    for (let e = start; e < end; e++) {
      const above = e + 1 < end ? `base + ${d.ending[e + 1]!}` : `base + ${step} + ${d.ending[start]!}`;
      find.push(
        `if (price >= base + ${d.ending[e]!}) { below = base + ${d.ending[e]!}; above = ${above}; within = ${d.downWithin[e]!}; from = ${d.upFrom[e]!}; }`,
      );
    }
    const choose = [
      'price = price - below < above - price ? below : above;',
      'price = price === below ? below : above;',
      'price = below;',
      `if (price - below < within) price = below; else if (price - below >= from) price = above; else { ${half} }`,
    ][d.direction[r]!]!;
    rungs.push(`if (price >= ${n(d.from[r]!)} && price < ${n(d.to[r]!)}) { ${find.join(' ')} ${choose} }`);
  }
  const guards = Array.from(l.guards, (kind, g) => {
    const value = l.guardValue[g]!;
    const limit =
      ['cost * tax', `cost * ${value} * tax`, `cost / ${value} * tax`][kind] ??
      (kind === 7 ? `cost * ${value} * tax` : `cost / ${value} * tax`);
    return kind < 6
      ? `if (${limit} * ${d.scale} > floor) floor = ${limit} * ${d.scale};`
      : `if (${limit} * ${d.scale} < ceiling) ceiling = ${limit} * ${d.scale};`;
  });
  const body = `
    const { units, taxClass, landed } = c;
    ${raw ? 'const { cost: costs, packUnits, rate, weight, terms, onTop: { freightPerKg, duty, handling, overhead } } = raw;' : ''}
    const taxes = l.taxFactor;
    return (out, markup, margin) => {
      for (let i = 0; i < landed.length; i++) {
        ${raw ? 'const s = terms[i], unit = costs[i] / packUnits[i] * rate[i];' : ''}
        const cost = ${raw ? '(unit + weight[i] * freightPerKg[s] + unit * duty[s] + handling[s] + unit * overhead[s])' : 'landed[i]'} * ${n(l.rate[0]!)} * units[i];
        const tax = taxes[taxClass[i]];
        let net = 0;
        ${bands.join('\n        else ')}
        net += cost * ${l.after[0]};
        let price = net * tax * ${d.scale};
        ${rungs.join('\n        else ')}
        else { ${half} }
        let floor = 0, ceiling = Infinity;
        ${guards.join('\n        ')}
        if (price < floor) price = floor; else if (price > ceiling) price = ceiling;
        const back = price / ${d.scale} / tax;
        out[i] = price;
        markup[i] = Math.round((back - cost) / cost * 1e6);
        margin[i] = Math.round((back - cost) / back * 1e6);
      }
    };`;
  return new Function('c', 'l', 'raw', body)(c, l, raw) as ReturnType<typeof plainDoubles>;
}
