import type { Posted } from '#contract/posting-requests.ts';
import type { NumberForm } from '../kit/number-form.ts';
import { countedIn } from '../kit/words.ts';

/** What is told of a posting that was asked for. `where`: "on Counter". */
export function postedWords({ lines, postings, request }: Posted, where: string, form: NumberForm): string {
  const prices = countedIn(form).counted(lines, 'price');
  return request === null
    ? `${prices} posted ${where} (posting ${postings.join(', ')}).`
    : `${prices} ${where} ${lines === 1 ? 'waits' : 'wait'} for a second person (request ${request}).`;
}
