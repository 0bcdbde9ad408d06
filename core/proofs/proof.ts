import type { Step } from '../buildup/steps.ts';
import type { ProvableQuestion } from '../evaluator/questions.ts';
import type { FloorOutcome } from '../quotes/floors.ts';

/** What a proof expects; every field given must come out. */
export interface Expected {
  /** The unit price (of a price or recipe question), the landed cost, or what is to pay for a quote or a chain. */
  readonly price?: string | null;
  /** The code of the reason why there is no price. */
  readonly reason?: string | null;
  /** The outcome of the floor that is broken; `none`: none is. */
  readonly floor?: FloorOutcome | 'none' | null;
}

/** A step as a known-good run left it. */
export type KnownStep = Pick<Step, 'kind' | 'after'>;

/** A saved question with the answer the administrator expects. */
export interface Proof {
  readonly id: string;
  readonly version: number;
  readonly name: string;
  readonly question: ProvableQuestion;
  readonly expect: Expected;
  /** The build-up of a run that was right, to find the first step that now differs. */
  readonly good?: readonly KnownStep[] | null;
}
