import { getNonce } from 'get-nonce';
import { useEffect, useRef } from 'react';
import { useNumberForm } from '../frame/preferences.ts';

/** The library's own few rules carry the mark of the page: without it the browser would not take them. */
function allowRules(): void {
  const id = 'plotly.js-style-global';
  if (document.getElementById(id)) return;
  const style = document.createElement('style');
  style.id = id;
  style.nonce = getNonce() ?? '';
  document.head.append(style);
}

/** Marks of the lines: told apart by dash as well as by colour. */
const DASHES = ['solid', 'dot', 'dash', 'longdash', 'dashdot'] as const;

const MOST_MARKS = 80;

export interface Steps {
  readonly name: string;
  /** From which day on which value holds, in order; a chart shows how it went, the exact figures stand in a table beside it. */
  readonly points: readonly (readonly [day: string, value: number])[];
}

/** Values that hold from a day on until the next, up to today. */
export function StepChart({
  series,
  today,
  unit,
  label,
}: {
  series: readonly Steps[];
  today: string;
  /** What the values are, at the axis. */
  unit: string;
  /** For those who hear the page. */
  label: string;
}) {
  const form = useNumberForm();
  const box = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const node = box.current;
    if (!node) return;
    let gone = false;
    // it brings its rules along as soon as it is read
    allowRules();
    void import('plotly.js-basic-dist-min').then(async ({ default: Plotly }) => {
      if (gone) return;
      const style = getComputedStyle(document.documentElement);
      const ink = style.getPropertyValue('--ink').trim();
      const rule = style.getPropertyValue('--rule').trim();
      const traces = series.map(({ name, points }, n) => ({
        name,
        x: [...points.map(([day]) => day), today],
        y: [...points.map(([, value]) => value), points.at(-1)?.[1] ?? null],
        // a mark for each of hundreds of days would hide the line
        mode: points.length > MOST_MARKS ? ('lines' as const) : ('lines+markers' as const),
        line: { shape: 'hv' as const, dash: DASHES[n % DASHES.length]!, width: 2 },
        marker: { size: 5 },
      }));
      await Plotly.newPlot(
        node,
        traces,
        {
          autosize: true,
          height: 220,
          margin: { l: 56, r: 8, t: 8, b: 32 },
          paper_bgcolor: 'transparent',
          plot_bgcolor: 'transparent',
          font: { family: 'Commissioner Variable, sans-serif', size: 12, color: ink },
          xaxis: { gridcolor: rule, type: 'date' },
          yaxis: { gridcolor: rule, title: { text: unit } },
          showlegend: true,
          separators: form === 'comma' ? ',.' : '.,',
          legend: { orientation: 'h', y: -0.2 },
        },
        { displayModeBar: false, responsive: true },
      );
    });
    return () => {
      gone = true;
      void import('plotly.js-basic-dist-min').then(({ default: Plotly }) => Plotly.purge(node));
    };
  }, [series, today, unit, form]);
  return <div ref={box} role="img" aria-label={label} className="h-[220px] w-full" />;
}
