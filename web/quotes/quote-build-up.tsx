import type { QuoteBody, QuoteFigures, QuoteView } from '#contract/quotes.ts';
import { PostedBehind } from '../buildup/posted-behind.tsx';
import { StepsList } from '../buildup/steps-list.tsx';
import { useSignedIn } from '../people/use-me.ts';

/** What is explained beside a quote: a line by its place, or a charge by its id. */
export type Explained = { readonly line: number } | { readonly charge: string } | null;

/** How the figure of a line or a charge comes about, step by step. */
export function QuoteBuildUp({
  of,
  figures,
  lines,
  day,
  lost,
}: {
  of: Explained;
  figures: QuoteFigures | undefined;
  lines: QuoteBody['lines'];
  /** The day of a quote that stands as it is; null: today. */
  day: string | null;
  /** Lists that might have answered. */
  lost: QuoteView['listLost'];
}) {
  const me = useSignedIn();
  if (!of || !figures) return null;
  const at = 'line' in of ? of.line : null;
  const charge = 'charge' in of ? figures.charges.find((c) => c.id === of.charge) : undefined;
  const line = at === null ? undefined : figures.lines[at];
  const steps = charge?.steps ?? line?.steps;
  if (!steps || steps.length === 0) return null;
  const typed = at === null ? undefined : lines[at];
  return (
    <aside
      aria-label="Build-up"
      className="w-[18.5rem] shrink-0 overflow-auto border-l border-rule-strong bg-sheet px-4 py-2"
    >
      <h2>{charge ? 'Build-up of the charge' : `Build-up of line ${at! + 1}`}</h2>
      <p className="mb-1 text-xs text-faint">{charge ? charge.name : `${line!.sku} · ${line!.name}`}</p>
      <StepsList steps={steps} places={2} links />
      {typed && me.rights.has('see_cost') ? <PostedBehind key={at} steps={steps} {...typed} day={day} /> : null}
      {lost.map((l) => (
        <p key={l.name} className="text-xs text-faint">
          <s>{l.name}</s>: {l.why}
        </p>
      ))}
    </aside>
  );
}
