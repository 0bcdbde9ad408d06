import { Link } from 'react-router';
import type { Step } from '#core/buildup/steps.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { Figure } from '../kit/figure.tsx';
import { daysIn, shorten, show, showFact } from '../kit/number-form.ts';
import { FLAG_WORDS, STEP_NAMES, operationWords, ruleAddress } from './words.ts';

/** A build-up as ledger lines, from the first figure down to the double-ruled last. */
export function StepsList({ steps, places, links }: { steps: readonly Step[]; places: number; links: boolean }) {
  return (
    <ol className="text-[0.8125rem]">
      {steps.map((step, i) => (
        <StepLine
          key={i}
          step={step}
          last={i === steps.length - 1}
          places={i === steps.length - 1 ? places : 4}
          before={steps[i - 1]}
          links={links}
        />
      ))}
    </ol>
  );
}

function StepLine({
  step,
  last,
  places,
  before,
  links,
}: {
  step: Step;
  last: boolean;
  places: number;
  before: Step | undefined;
  links: boolean;
}) {
  const form = useNumberForm();
  const to = links ? ruleAddress(step) : null;
  const uplift = step.facts?.['uplift'];
  const words = uplift ?? operationWords(step.operation, form);
  const facts = Object.entries(step.facts ?? {}).filter(([name]) => name !== 'uplift');
  const bit = step.flag !== undefined && step.flag !== 'hand_set';
  return (
    <li
      className={`border-b border-rule py-1.5 last:border-0 ${bit ? (step.flag === 'bit' ? 'bg-warn-ground' : 'bg-stop-ground') : ''}`}
    >
      <div className="flex items-baseline gap-2 px-1">
        <span className="min-w-0 flex-1">
          <span className={last ? 'font-semibold' : 'font-medium'}>{STEP_NAMES[step.kind]}</span>{' '}
          <span className="text-faint">
            {words}
            {step.per !== before?.per && !last && step.kind !== 'unit_cost'
              ? `${words ? ' · ' : ''}per ${step.per}`
              : ''}
          </span>
        </span>
        <Figure value={step.after} places={places} final={last} pad={4 - places} />
        <span className="figure w-8 text-xs text-faint">{step.currency !== before?.currency ? step.currency : ''}</span>
      </div>
      <div className="px-1 text-xs text-faint">
        {step.rule ? (
          <span>
            {to ? (
              <Link to={to} className="text-accent underline underline-offset-2">
                {step.rule.name}
              </Link>
            ) : (
              step.rule.name
            )}
            {step.rule.version ? `, version ${step.rule.version}` : ''}
            {step.rule.part && !/^\d+$/.test(step.rule.part) ? ` · ${step.rule.part}` : ''}
          </span>
        ) : null}
        {facts.length > 0 ? (
          <span>
            {step.rule ? ' · ' : ''}
            {facts.map(([name, value]) => `${daysIn(name, form)} ${showFact(value, form)}`).join(' · ')}
          </span>
        ) : null}
        {bit ? (
          <div className={step.flag === 'bit' ? 'text-warn' : 'text-stop'}>
            ▲ {FLAG_WORDS[step.flag!]}; before {step.before ? show(shorten(step.before, 4), form) : ''}
          </div>
        ) : null}
      </div>
      {step.lost?.map((l) => (
        <div key={l.name} className="px-1 text-xs text-faint">
          <s>
            {l.name}
            {l.figure ? ` ${show(shorten(l.figure, 4), form)}` : ''}
          </s>
          : {daysIn(l.why, form)}
        </div>
      ))}
    </li>
  );
}
