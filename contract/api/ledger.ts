import { reversalBody, reverseBody } from '../lists.ts';
import { LINES_QUERY } from '../windows.ts';
import { TOPICS, get, post } from './declare.ts';

const BELOW = { below: 'the id that the page before ended with' } as const;

export const ledgerRoutes = {
  postings: get('/postings', 'Postings, the newest first, 200 a page', 'postings', {
    right: 'read',
    query: { ...BELOW, list: 'only those of a list, by its id' },
    reads: ['prices'],
  }),
  posting: get('/postings/:id', 'A posting', 'posting', { right: 'read', reads: ['prices'] }),
  lines: get('/postings/:id/lines', 'A stretch of the lines of a posting', 'posting_lines', {
    right: 'read',
    query: LINES_QUERY,
    reads: ['prices'],
  }),
  reversal: post(
    '/postings/:id/reversal',
    'What reversing a posting, or some of its prices, would come to',
    'reversal',
    {
      right: 'post',
      body: reversalBody,
      mostValues: 600_000,
      reads: ['prices'],
    },
  ),
  reverse: post('/postings/:id/reverse', 'Reverses a posting, or some of its prices', 'posted', {
    right: 'post',
    body: reverseBody,
    mostValues: 600_000,
    changes: ['prices'],
  }),
  audit: get('/audit', 'The record of changes, the newest first, 200 a page', 'audit', {
    right: 'see_cost',
    query: { ...BELOW, subject: 'only of one kind, such as recipes', of: 'and of one record of it, by its id' },
    reads: TOPICS,
  }),
} as const;
