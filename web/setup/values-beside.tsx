import { useMemo } from 'react';
import { Link } from 'react-router';
import { toast } from 'sonner';
import type { ItemValue } from '#contract/items.ts';
import { type AttributeTerms, type Way, inWays, sameness } from '#core/items/described.ts';
import { problemOf } from '../api.ts';
import { itemsApi } from '../items/endpoints.ts';
import { Button, Trouble } from '../kit/controls.tsx';
import { faultWords } from '../kit/faults.tsx';
import { counted } from '../kit/words.ts';

const NONE: ItemValue[] = [];
const MOST_SHOWN = 60;
/** How many items write it so. */
const itemsOf = (way: Way<ItemValue>): number => way.items.reduce((sum, v) => sum + v.items, 0);

/** What items say of an attribute; what is written in several ways is written in one. */
export function ValuesBeside({ before }: { before: Record<string, unknown> }) {
  const terms = before as unknown as AttributeTerms;
  const name = terms.name;
  return <Values of={name} unit={terms.unit ?? null} declared={terms.values ?? []} />;
}

/** Items of a brand, and those whose brand is the same but for case and space. */
export function BrandBeside({ before }: { before: Record<string, unknown> }) {
  const name = String(before['name']);
  const same = sameness(name, null);
  return <Values of="brand" unit={null} fits={(value) => sameness(value, null) === same} declared={[name]} />;
}

function Values({
  of,
  unit,
  fits,
  declared,
}: {
  of: string;
  unit: string | null;
  fits?: (value: string) => boolean;
  declared: readonly string[];
}) {
  const { data: values = NONE } = itemsApi.useItemValuesQuery(of);
  const [merge, { error, isLoading }] = itemsApi.useMergeValuesMutation();
  const groups = useMemo(
    () =>
      inWays(
        values.filter((v) => fits?.(v.value) ?? true).map((v) => [v.value, v] as const),
        unit,
      ).map((ways) => ways.sort((a, b) => itemsOf(b) - itemsOf(a))),
    [values, fits, unit],
  );
  const alike = groups.filter((g) => g.length > 1);
  const problem = error && problemOf(error);
  const write = async (ways: readonly Way<ItemValue>[], to: string) => {
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
            <Link className="text-accent underline" to={`/items?find=${encodeURIComponent(g[0]!.items[0]!.sku)}`}>
              {g[0]!.value}
            </Link>{' '}
            <span className="text-faint">{g.reduce((sum, w) => sum + itemsOf(w), 0)}</span>
          </span>
        ))}
        {groups.length > MOST_SHOWN ? ` and ${groups.length - MOST_SHOWN} more` : ''}
      </p>
      {alike.map((found) => {
        const to = found.find((w) => declared.includes(w.value))?.value ?? found[0]!.value;
        // the one that stays comes first
        const ways = [...found].sort((a, b) => Number(b.value === to) - Number(a.value === to));
        return (
          <p key={ways[0]!.value} className="mt-2 flex flex-wrap items-center gap-3">
            <span>
              Written in {ways.length} ways:{' '}
              {ways.map((w) => `“${w.value}” (${counted(itemsOf(w), 'item')})`).join(', ')}
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
