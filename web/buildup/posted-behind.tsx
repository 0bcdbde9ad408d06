import { useState } from 'react';
import type { Step } from '#core/buildup/steps.ts';
import { problemOf } from '../api.ts';
import { Trouble } from '../kit/controls.tsx';
import { listsApi } from '../lists/endpoints.ts';
import { StepsList } from './steps-list.tsx';

/** How the posted price was made that a build-up starts from, down to the cost: read when it is asked for. */
export function PostedBehind({
  steps,
  item,
  pack,
  day,
}: {
  steps: readonly Step[];
  item: string;
  pack: string;
  /** On which the price was in force. */
  day: string | null;
}) {
  const posted = steps.find((s) => s.kind === 'list_price' && s.facts?.['posting']);
  const [open, setOpen] = useState(false);
  const { currentData: b, error } = listsApi.useBuildUpQuery(
    { list: posted?.rule?.id ?? '', item, pack, day },
    { skip: !open || !posted?.rule },
  );
  if (!posted) return null;
  return (
    <section className="mt-3 border-t border-rule-strong pt-2">
      <button
        type="button"
        aria-expanded={open}
        className="text-accent underline underline-offset-2"
        onClick={() => setOpen(!open)}
      >
        How the posted price was made
      </button>
      {open && error ? <Trouble>{problemOf(error).message}</Trouble> : null}
      {open && b ? (
        b.postedSteps ? (
          <StepsList steps={b.postedSteps} places={2} links />
        ) : (
          <p className="text-faint">It was typed, not computed.</p>
        )
      ) : null}
    </section>
  );
}
