import type { Workspace } from '#core/workspace/workspace.ts';
import { type FileFault, shortJson } from './read-file.ts';

/** Members whose records people tell apart by name where they are kept; a file may have two of one name. */
const ONCE = [
  'suppliers',
  'ladders',
  'recipes',
  'lists',
  'groups',
  'customers',
  'attributes',
  'brands',
  'taxClasses',
] as const;

/** Names, SKUs and the days of rates that a database takes once, and the file has twice. */
export function namesTwice(ws: Workspace): FileFault[] {
  const faults: FileFault[] = [];
  const once = (member: string, field: string, texts: readonly string[]) => {
    const seen = new Map<string, number>();
    texts.forEach((text, i) => {
      const first = seen.get(text);
      if (first === undefined) seen.set(text, i);
      else
        faults.push({
          path: `$.${member}[${i}].${field}`,
          value: shortJson(text),
          expected: `another ${field} than that of $.${member}[${first}]: where it is kept it is told by its ${field}`,
        });
    });
  };
  for (const member of ONCE)
    once(
      member,
      'name',
      ws[member].map((r) => r.name),
    );
  once(
    'items',
    'sku',
    ws.items.map((i) => i.sku),
  );
  once(
    'rates',
    'day',
    ws.rates.map((r) => `${r.from} to ${r.to} on ${r.day}`),
  );
  once(
    'taxes',
    'from',
    ws.taxes.map((t) => `${t.taxClass} from ${t.from}${t.region ? ` in ${t.region}` : ''}`),
  );
  return faults.slice(0, 40);
}
