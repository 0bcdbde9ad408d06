import { Progress as Bar } from 'radix-ui';
import { WORKSHEET_STATE_NAMES, type Worksheet, type WorksheetList } from '#contract/worksheets.ts';

export const isUnderWay = (w: Worksheet): boolean => ['waiting', 'computing', 'posting', 'reversing'].includes(w.state);

/** In these it has prices to show. */
export const WITH_PRICES: readonly Worksheet['state'][] = ['draft', 'posting', 'posted', 'reversing', 'reversed'];

export function sumOf(lists: readonly WorksheetList[]): Pick<WorksheetList, 'rises' | 'falls' | 'first' | 'without'> {
  const sum = { rises: 0, falls: 0, first: 0, without: 0 };
  for (const l of lists) for (const key of ['rises', 'falls', 'first', 'without'] as const) sum[key] += l[key];
  return sum;
}

/** The state in words; while it is computed, posted or reversed, how far that is. */
export function Progress({ worksheet: w }: { worksheet: Worksheet }) {
  const [done, all] = w.underWay ? [w.underWay.written, w.underWay.postings] : [w.done, w.total];
  if (w.state !== 'computing' && !w.underWay)
    return <span className={w.state === 'failed' ? 'text-stop' : ''}>{WORKSHEET_STATE_NAMES[w.state]}</span>;
  const percent = all === 0 ? 0 : Math.floor((done / all) * 100);
  return (
    <span className="flex items-center gap-2 whitespace-nowrap">
      {w.underWay ? WORKSHEET_STATE_NAMES[w.state] : null}
      <Bar.Root value={percent} aria-label={`Worksheet ${w.id}`} className="h-2 w-28 border border-rule-strong">
        <Bar.Indicator className="block h-full bg-accent" style={{ width: `${percent}%` }} />
      </Bar.Root>
      <span className="figure">{all === 0 ? 'reading …' : `${percent} %`}</span>
    </span>
  );
}
