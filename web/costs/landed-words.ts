import type { LandedTerms } from '#core/costs/cost.ts';
import { type NumberForm, show } from '../kit/number-form.ts';

/** What comes on top of the unit cost, in words; 0 is said, for it stands against something. */
export function landedWords(t: LandedTerms, form: NumberForm): string {
  const n = (text: string) => show(text, form);
  const amount = (a: { amount: string; currency: string }) => `${n(a.amount)} ${a.currency}`;
  return [
    t.freight ? `freight ${amount(t.freight.amount)} per ${t.freight.per}` : '',
    t.dutyPercent ? `duty ${n(t.dutyPercent)} %` : '',
    t.handling ? `handling ${amount(t.handling)} per unit` : '',
    t.overheadPercent ? `overhead ${n(t.overheadPercent)} %` : '',
    t.orderFee ? `a fee of ${amount(t.orderFee.fee)} on orders of ${n(t.orderFee.order)}` : '',
    t.usualOrder ? `${n(t.usualOrder)} cost packs ordered at once` : '',
  ]
    .filter((words) => words !== '')
    .join(', ');
}
