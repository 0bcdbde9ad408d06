import { Progress as Bar } from 'radix-ui';
import { WORKSHEET_STATE_NAMES, type Worksheet, type WorksheetList } from '#contract/worksheets.ts';

export const isUnderWay = (w: Worksheet): boolean => ['waiting', 'computing', 'posting'].includes(w.state);

export function sumOf(lists: readonly WorksheetList[]): Pick<WorksheetList, 'rises' | 'falls' | 'first' | 'without'> {
  const sum = { rises: 0, falls: 0, first: 0, without: 0 };
  for (const l of lists) for (const key of ['rises', 'falls', 'first', 'without'] as const) sum[key] += l[key];
  return sum;
}

/** The state in words; while it is computed, how far it is. */
export function Progress({ worksheet: w }: { worksheet: Worksheet }) {
  if (w.state !== 'computing')
    return <span className={w.state === 'failed' ? 'text-stop' : ''}>{WORKSHEET_STATE_NAMES[w.state]}</span>;
  const percent = w.total === 0 ? 0 : Math.floor((w.done / w.total) * 100);
  return (
    <span className="flex items-center gap-2 whitespace-nowrap">
      <Bar.Root value={percent} aria-label={`Worksheet ${w.id}`} className="h-2 w-28 border border-rule-strong">
        <Bar.Indicator className="block h-full bg-accent" style={{ width: `${percent}%` }} />
      </Bar.Root>
      <span className="figure">{w.total === 0 ? 'reading …' : `${percent} %`}</span>
    </span>
  );
}
