import type { Posted } from '#contract/posting-requests.ts';
import { counted } from '../kit/words.ts';

/** What is told of a posting that was asked for. `where`: "on Counter". */
export const postedWords = ({ lines, postings, request }: Posted, where: string): string =>
  request === null
    ? `${counted(lines, 'price')} posted ${where} (posting ${postings.join(', ')}).`
    : `${counted(lines, 'price')} ${where} ${lines === 1 ? 'waits' : 'wait'} for a second person (request ${request}).`;
