import { type Dec, ZERO, dec, divide, plain, roundHalfUp, roundUp, settle } from '../numbers/decimal.ts';
import { type Ladder, type RungTerms, applyLadder, prepareLadder } from '../rounding/ladder.ts';
import { type GoodsChange, priceAfter } from './goods-change.ts';

export const STEP_KINDS = [
  'cost',
  'unit_cost',
  'exchange',
  'freight',
  'duty',
  'handling',
  'overhead',
  'order_fee',
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
  | { readonly op: 'ladder'; readonly decimals: number; readonly rung: RungTerms }
  /** Changes the goods and leaves the deposit, which is in the figure, alone. */
  | { readonly op: 'goods'; readonly change: GoodsChange; readonly value: string; readonly deposit: string }
  /** The average price of slices; only for showing. */
  | { readonly op: 'slices'; readonly slices: readonly SliceText[] }
  /** Times a quantity, rounded half up. */
  | { readonly op: 'total'; readonly quantity: string; readonly decimals: number }
  /** Each slice's price times its quantity, rounded half up, summed. */
  | { readonly op: 'total_of_slices'; readonly slices: readonly SliceText[]; readonly decimals: number };

/** Part of a quantity at a price of its own. */
export interface SliceText {
  readonly quantity: string;
  readonly price: string;
}

/** The rule behind a step, so that it can be opened: what it is, which one, in which version. */
export interface RuleRef {
  readonly kind:
    | 'recipe'
    | 'ladder'
    | 'supplier'
    | 'landed'
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
  /** Which part of the rule: an uplift row, a rung, a guard; by id, and in words where it has a name. */
  readonly part?: string;
  readonly partName?: string;
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

/** Ladders of one rung, made ready once for every rung. */
const ready = new WeakMap<RungTerms, Map<number, Ladder>>();

function readyRung(rung: RungTerms, decimals: number): Ladder {
  const known = ready.get(rung) ?? new Map<number, Ladder>();
  ready.set(rung, known);
  if (!known.has(decimals)) known.set(decimals, prepareLadder([rung], decimals));
  return known.get(decimals)!;
}

function figureBefore(operation: Operation, before: Dec | null): Dec {
  if (before === null) throw new Error(`the step "${operation.op}" has no figure to work on`);
  return before;
}

/** Does an operation; `operand` is its value where the caller has it as a decimal already. */
export function calculate(operation: Operation, before: Dec | null, operand?: Dec): Dec {
  switch (operation.op) {
    case 'start':
    case 'set':
      return operand ?? dec(operation.value);
    case 'plus':
      return figureBefore(operation, before).plus(operand ?? dec(operation.value));
    case 'times':
      return figureBefore(operation, before).times(operand ?? dec(operation.value));
    case 'divide':
      return divide(figureBefore(operation, before), operand ?? dec(operation.value));
    case 'round':
      return operation.way === 'up'
        ? roundUp(figureBefore(operation, before), operation.decimals)
        : roundHalfUp(figureBefore(operation, before), operation.decimals);
    case 'ladder':
      return applyLadder(readyRung(operation.rung, operation.decimals), figureBefore(operation, before));
    case 'goods':
      return priceAfter(operation.change, operation.value, figureBefore(operation, before), dec(operation.deposit));
    case 'slices': {
      const units = operation.slices.reduce((all, s) => all.plus(s.quantity), ZERO);
      return divide(
        operation.slices.reduce((all, s) => all.plus(dec(s.price).times(s.quantity)), ZERO),
        units,
      );
    }
    case 'total':
      return roundHalfUp(figureBefore(operation, before).times(operation.quantity), operation.decimals);
    case 'total_of_slices':
      return operation.slices.reduce(
        (all, s) => all.plus(roundHalfUp(dec(s.price).times(s.quantity), operation.decimals)),
        ZERO,
      );
  }
}

/** Collects the steps of one derivation; every figure in it is the result of the step's own operation. */
export class Derivation {
  readonly steps: Step[] = [];
  private current: Dec | null = null;
  private text: string | null = null;

  get figure(): Dec {
    if (this.current === null) throw new Error('the derivation has no figure yet');
    return this.current;
  }

  /** Goes on from another derivation's steps. */
  continueFrom(steps: readonly Step[], figure: Dec): void {
    for (const step of steps) this.steps.push(step);
    this.current = figure;
    this.text = plain(figure);
  }

  /** Takes a divided figure to the digits it is decided on, so that the step that rounds it shows what it rounds. */
  private settle(): void {
    const { current } = this;
    const last = this.steps.at(-1);
    if (!current || !last || settle(current) === current) return;
    this.current = settle(current);
    this.text = plain(this.current);
    this.steps[this.steps.length - 1] = { ...last, after: this.text };
  }

  /** Does the step's operation; `operand` is its value where it is at hand as a decimal. */
  add(step: Omit<Step, 'before' | 'after'>, operand?: Dec): Dec {
    if (step.operation.op === 'round' || step.operation.op === 'ladder') this.settle();
    const after = calculate(step.operation, this.current, operand);
    const text = plain(after);
    // the caller's literal becomes the step: copying it is what this loop would spend most time on
    this.steps.push(Object.assign(step, { before: this.text, after: text }));
    this.current = after;
    this.text = text;
    return after;
  }
}

/** Does every step again from its own operation, on the figures as they are shown; returns the final figure, or the index of the first step that does not come out. */
export function replay(steps: readonly Step[]): { ok: true; figure: string } | { ok: false; at: number } {
  let current: Dec | null = null;
  for (const [at, step] of steps.entries()) {
    current = calculate(step.operation, current);
    if (plain(current) === step.after) continue;
    current = settle(current);
    if (plain(current) !== step.after) return { ok: false, at };
  }
  return current === null ? { ok: false, at: 0 } : { ok: true, figure: plain(current) };
}
