import { COST_FLAG_TEXT, type CostChange, type CostFlag } from '#contract/costs.ts';
import { type NumberForm, show, showDay, shorten } from '../kit/number-form.ts';

type Because = Record<string, string>;

/** What a flag says of this one cost, with its figures in the reader's form. */
const DETAILS: Partial<Record<CostFlag, (b: Because, form: NumberForm) => string>> = {
  decimal_shift: (b) => `decimal mark shifted? near ${b['times']} times as much or as little`,
  piece_for_pack: (b, f) => `the cost of one unit, where ${show(b['units']!, f)} were listed together?`,
  pack_for_piece: (b, f) => `the cost of a pack of ${show(b['units']!, f)}, read as that of one unit?`,
  far_from_like: (b, f) =>
    `far from ${b['count']} like items (${b['among']}): in their middle ${show(shorten(b['middle']!, 4), f)} ${b['currency']} a ${b['unit']}`,
  unlike_lockstep: (b, f) =>
    `${b['lead']}, which it follows in lockstep, costs ${show(b['amount']!, f)} ${b['currency']} for ${show(b['units']!, f)} here`,
  follows_lead: (b) => `follows ${b['lead']} in lockstep: its own cost moves no price`,
  above_rrp: (b, f) =>
    `landed ${show(b['landed']!, f)} ${b['currency']}, and the RRP without tax is ${show(b['rrp']!, f)}`,
  unchanged_for_year: (b, f) => `has not changed since ${showDay(b['since']!, f)}`,
  ends_reduced: (b, f) => `the reduced cost of ${show(b['amount']!, f)} ${b['currency']} would end`,
};

export function flagWords({ because }: Pick<CostChange, 'because'>, flag: CostFlag, form: NumberForm): string {
  const why = because?.[flag];
  const detail = DETAILS[flag];
  return why && detail ? detail(why, form) : COST_FLAG_TEXT[flag];
}
