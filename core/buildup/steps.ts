import { type Dec, dec, divide, plain, roundHalfUp, roundUp } from '../numbers/decimal.ts';
import { type RungTerms, applyLadder, prepareLadder } from '../rounding/ladder.ts';

export const STEP_KINDS = [
  'cost',
  'unit_cost',
  'exchange',
  'freight',
  'duty',
  'handling',
  'overhead',
  'basis',
  'pack',
  'uplift',
  'add_on',
  'deposit',
  'tax',
  'ladder',
  'decimals',
  'guard',
  'hand_set',
  'list_price',
  'entry',
  'fall_back',
  'reduction',
  'break',
  'rule',
  'free_units',
  'manual_reduction',
  'quote_reduction',
  'floor',
  'line_total',
  'charge',
  'charged_before',
] as const;
export type StepKind = (typeof STEP_KINDS)[number];

/** What a step does to the figure, complete enough to do it again. Amounts are exact decimals as text. */
export type Operation =
  | { readonly op: 'start'; readonly value: string }
  | { readonly op: 'plus'; readonly value: string }
  | { readonly op: 'times'; readonly value: string }
  | { readonly op: 'divide'; readonly value: string }
  | { readonly op: 'set'; readonly value: string }
  | { readonly op: 'round'; readonly decimals: number; readonly way: 'half_up' | 'up' }
  | { readonly op: 'ladder'; readonly decimals: number; readonly rung: RungTerms };

/** The rule behind a step, so that it can be opened: what it is, which one, in which version. */
export interface RuleRef {
  readonly kind:
    | 'recipe'
    | 'ladder'
    | 'supplier'
    | 'cost'
    | 'rate'
    | 'tax'
    | 'item'
    | 'list'
    | 'posting'
    | 'break'
    | 'floor'
    | 'reduction'
    | 'rule'
    | 'charge'
    | 'lockstep'
    | 'quote';
  readonly id: string;
  readonly version?: number;
  readonly name: string;
  /** Which part of the rule: an uplift row, a rung, a guard. */
  readonly part?: string;
}

/** A candidate that was considered and lost. */
export interface Lost {
  readonly name: string;
  readonly why: string;
  readonly figure?: string;
}

/** One line of a build-up. */
export interface Step {
  readonly kind: StepKind;
  readonly operation: Operation;
  readonly before: string | null;
  readonly after: string;
  readonly currency: string;
  /** What the figure is for: one unit, the pack, the whole line. */
  readonly per: 'cost pack' | 'unit' | 'pack' | 'line';
  readonly rule?: RuleRef;
  /** The values the operand was made of, as name and value. */
  readonly facts?: Readonly<Record<string, string>>;
  readonly lost?: readonly Lost[];
  /** Marked when a guard or a floor changed the figure, or a conflict is left to a person. */
  readonly flag?:
    'bit' | 'no_ending_fits' | 'floor_above_ceiling' | 'hand_set' | 'asks_approval' | 'refused' | 'dated_above_regular';
}

export function calculate(operation: Operation, before: Dec | null): Dec {
  const from = (): Dec => {
    if (before === null) throw new Error(`the step "${operation.op}" has no figure to work on`);
    return before;
  };
  switch (operation.op) {
    case 'start':
    case 'set':
      return dec(operation.value);
    case 'plus':
      return from().plus(operation.value);
    case 'times':
      return from().times(operation.value);
    case 'divide':
      return divide(from(), dec(operation.value));
    case 'round':
      return operation.way === 'up' ? roundUp(from(), operation.decimals) : roundHalfUp(from(), operation.decimals);
    case 'ladder':
      return applyLadder(prepareLadder([operation.rung], operation.decimals), from());
  }
}

/** Collects the steps of one derivation; every figure in it is the result of the step's own operation. */
export class Derivation {
  readonly steps: Step[] = [];
  private current: Dec | null = null;

  get figure(): Dec {
    if (this.current === null) throw new Error('the derivation has no figure yet');
    return this.current;
  }

  /** Goes on from another derivation's steps. */
  continueFrom(steps: readonly Step[], figure: Dec): void {
    this.steps.push(...steps);
    this.current = figure;
  }

  add(step: Omit<Step, 'before' | 'after'>): Dec {
    const after = calculate(step.operation, this.current);
    this.steps.push({ ...step, before: this.current === null ? null : plain(this.current), after: plain(after) });
    this.current = after;
    return after;
  }
}

/** Does every step again from its own operation; returns the final figure, or the index of the first step that does not come out. */
export function replay(steps: readonly Step[]): { ok: true; figure: string } | { ok: false; at: number } {
  let current: Dec | null = null;
  for (const [at, step] of steps.entries()) {
    current = calculate(step.operation, current);
    if (plain(current) !== step.after) return { ok: false, at };
  }
  return current === null ? { ok: false, at: 0 } : { ok: true, figure: plain(current) };
}
