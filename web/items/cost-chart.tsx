import { getNonce } from 'get-nonce';
import { useEffect, useRef } from 'react';
import type { ItemCost } from '#contract/items.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { dec, divide } from '#core/numbers/decimal.ts';

/** The library's own few rules carry the mark of the page: without it the browser would not take them. */
function allowRules(): void {
  const id = 'plotly.js-style-global';
  if (document.getElementById(id)) return;
  const style = document.createElement('style');
  style.id = id;
  style.nonce = getNonce() ?? '';
  document.head.append(style);
}

/** Marks of the suppliers' lines: told apart by dash as well as by colour. */
const DASHES = ['solid', 'dot', 'dash', 'longdash', 'dashdot'] as const;

/** What each supplier's cost per unit was over time, in the supplier's currency: a step where a cost begins to count. */
export function CostChart({ costs, today }: { costs: readonly ItemCost[]; today: string }) {
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
      const counting = costs.filter((c) => !c.takenBack);
      const names = [...new Set(counting.map((c) => `${c.supplierName}, ${c.currency}`))];
      const traces = names.map((name, n) => {
        const own = counting
          .filter((c) => `${c.supplierName}, ${c.currency}` === name)
          .sort((a, b) => a.validFrom.localeCompare(b.validFrom));
        // a chart shows how it went; the exact figures stand in the table beside it
        const y = own.map((c) => divide(dec(c.amount), dec(c.packUnits)).toNumber());
        return {
          name,
          x: [...own.map((c) => c.validFrom), today],
          y: [...y, y.at(-1) ?? null],
          mode: 'lines+markers' as const,
          line: { shape: 'hv' as const, dash: DASHES[n % DASHES.length]!, width: 2 },
          marker: { size: 5 },
        };
      });
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
          yaxis: { gridcolor: rule, title: { text: 'per unit' } },
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
  }, [costs, today, form]);
  return <div ref={box} role="img" aria-label="Cost per unit over time, by supplier" className="h-[220px] w-full" />;
}
