import { type DescriptionFault, alikeValues, descriptionFaults } from '../items/described.ts';
import type { Item } from '../items/item.ts';
import type { Prepared } from '../workspace/prepared.ts';
import { type Finding, finding } from './finding.ts';

/** How many items are named as places. */
const NAMED = 10;
const placesOf = (ids: readonly string[]) => ids.slice(0, NAMED).map((id) => `items/${id}`);

/** Values of items that are meant as one but are written in several ways, and those that nobody declared. */
export function checkDescriptions(ws: Prepared): Finding[] {
  const alike = alikeValues(ws.workspace).map(({ of, ways }) => {
    const [usual, ...others] = ways;
    const ids = others.flatMap((w) => w.items);
    return finding('values_alike', placesOf(ids), ids.length, {
      attribute: of,
      values: ways.map((w) => `“${w.value}” ${w.items.length}×`).join(', '),
      usual: usual!.value,
    });
  });
  const undeclared = new Map<string, { fault: DescriptionFault; items: Item[] }>();
  for (const item of ws.workspace.items)
    for (const fault of descriptionFaults(ws.workspace, item)) {
      const key = `${fault.at}\u0000${fault.value}`;
      const known = undeclared.get(key);
      if (known) known.items.push(item);
      else undeclared.set(key, { fault, items: [item] });
    }
  return [
    ...alike,
    ...[...undeclared.values()].map(({ fault, items }) =>
      finding('value_not_declared', placesOf(items.map((i) => i.id)), items.length, {
        item: items[0]!.sku,
        what: fault.at.replace('attributes.', ''),
        value: fault.value,
        ...(fault.near === null ? {} : { near: fault.near }),
      }),
    ),
  ];
}
