import { useMemo } from 'react';
import { Link } from 'react-router';
import { toast } from 'sonner';
import type { ItemRow } from '#contract/items.ts';
import { type AttributeTerms, sameness } from '#core/items/described.ts';
import { problemOf } from '../api.ts';
import { itemsApi } from '../items/endpoints.ts';
import { Button, Trouble } from '../kit/controls.tsx';
import { faultWords } from '../kit/faults.tsx';
import { counted } from '../kit/words.ts';

const NO_ITEMS: ItemRow[] = [];
const MOST_SHOWN = 60;

interface Used {
  readonly value: string;
  readonly items: number;
  readonly sku: string;
  readonly same: string;
}

/** Values in use, those that are meant as one together. */
function usedValues(
  items: readonly ItemRow[],
  valueOf: (i: ItemRow) => string | null | undefined,
  unit: string | null,
) {
  const found = new Map<string, Used>();
  for (const i of items) {
    const value = valueOf(i);
    if (!value) continue;
    const known = found.get(value);
    found.set(value, {
      value,
      items: (known?.items ?? 0) + 1,
      sku: known?.sku ?? i.sku,
      same: known?.same ?? sameness(value, unit),
    });
  }
  const groups = new Map<string, Used[]>();
  for (const u of found.values()) groups.set(u.same, [...(groups.get(u.same) ?? []), u]);
  return [...groups.values()].map((g) => g.sort((a, b) => b.items - a.items));
}

/** What items say of an attribute; what is written in several ways is written in one. */
export function ValuesBeside({ before }: { before: Record<string, unknown> }) {
  const terms = before as unknown as AttributeTerms;
  const name = terms.name;
  return (
    <Values of={name} unit={terms.unit ?? null} valueOf={(i) => i.attributes[name]} declared={terms.values ?? []} />
  );
}

/** Items of a brand, and those whose brand is the same but for case and space. */
export function BrandBeside({ before }: { before: Record<string, unknown> }) {
  const name = String(before['name']);
  const same = sameness(name, null);
  return (
    <Values
      of="brand"
      unit={null}
      valueOf={(i) => (i.brand && sameness(i.brand, null) === same ? i.brand : null)}
      declared={[name]}
    />
  );
}

function Values({
  of,
  unit,
  valueOf,
  declared,
}: {
  of: string;
  unit: string | null;
  valueOf: (i: ItemRow) => string | null | undefined;
  declared: readonly string[];
}) {
  const { data: items = NO_ITEMS } = itemsApi.useItemsQuery(null);
  const [merge, { error, isLoading }] = itemsApi.useMergeValuesMutation();
  const groups = useMemo(() => usedValues(items, valueOf, unit), [items, valueOf, unit]);
  const alike = groups.filter((g) => g.length > 1);
  const problem = error && problemOf(error);
  const write = async (ways: readonly Used[], to: string) => {
    try {
      const from = ways.map((w) => w.value).filter((v) => v !== to);
      const { items: changed } = await merge({ of, from, to }).unwrap();
      toast.success(`${counted(changed, 'item')} now ${changed === 1 ? 'says' : 'say'} “${to}”.`);
    } catch {
      /* shown below */
    }
  };
  return (
    <section className="mt-4 border-t border-rule pt-3" aria-label="Values in use">
      <p>
        {counted(groups.length, 'value')} in use
        {groups.length > 0 ? ': ' : '.'}
        {groups.slice(0, MOST_SHOWN).map((g, n) => (
          <span key={g[0]!.value}>
            {n > 0 ? ', ' : ''}
            <Link className="text-accent underline" to={`/items?find=${encodeURIComponent(g[0]!.sku)}`}>
              {g[0]!.value}
            </Link>{' '}
            <span className="text-faint">{g.reduce((sum, w) => sum + w.items, 0)}</span>
          </span>
        ))}
        {groups.length > MOST_SHOWN ? ` and ${groups.length - MOST_SHOWN} more` : ''}
      </p>
      {alike.map((ways) => {
        const to = ways.find((w) => declared.includes(w.value))?.value ?? ways[0]!.value;
        return (
          <p key={ways[0]!.same} className="mt-2 flex flex-wrap items-center gap-3">
            <span>
              Written in {ways.length} ways: {ways.map((w) => `“${w.value}” (${counted(w.items, 'item')})`).join(', ')}
            </span>
            <Button disabled={isLoading} onClick={() => void write(ways, to)}>
              Write all as “{to}”
            </Button>
          </p>
        );
      })}
      {problem ? (
        <Trouble>
          {problem.message} {faultWords(problem.faults)}
        </Trouble>
      ) : null}
    </section>
  );
}
