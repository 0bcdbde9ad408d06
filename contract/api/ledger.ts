import { reversalBody, reverseBody } from '../lists.ts';
import { refuseRequestBody } from '../posting-requests.ts';
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
  reverse: post('/postings/:id/reverse', 'Reverses a posting, or some of its prices', 'reversed', {
    right: 'post',
    body: reverseBody,
    mostValues: 600_000,
    changes: ['prices'],
  }),
  requests: get(
    '/posting-requests',
    'Postings that wait for a second person, and those decided last',
    'posting_requests',
    {
      right: 'post',
      reads: ['requests', 'rules'],
    },
  ),
  request: get('/posting-requests/:id', 'A posting that a second person has to agree to', 'posting_request', {
    right: 'post',
    reads: ['requests', 'rules'],
  }),
  requestedPrices: get(
    '/posting-requests/:id/prices',
    'A stretch of the prices that are to be posted',
    'requested_prices',
    {
      right: 'post',
      query: LINES_QUERY,
      reads: ['requests', 'catalogue', 'rules'],
    },
  ),
  agree: post(
    '/posting-requests/:id/agree',
    'Agrees to a posting as the second person: it is posted',
    'posting_request',
    {
      right: 'post',
      inPerson: true,
      changes: ['requests', 'prices', 'worksheets'],
    },
  ),
  refuse: post('/posting-requests/:id/refuse', 'Refuses a posting as the second person', 'posting_request', {
    right: 'post',
    inPerson: true,
    body: refuseRequestBody,
    changes: ['requests', 'worksheets'],
  }),
  withdraw: post('/posting-requests/:id/withdraw', 'Withdraws what oneself asked to be posted', 'posting_request', {
    right: 'post',
    changes: ['requests', 'worksheets'],
  }),
  audit: get('/audit', 'The record of changes, the newest first, 200 a page', 'audit', {
    right: 'see_cost',
    query: { ...BELOW, subject: 'only of one kind, such as recipes', of: 'and of one record of it, by its id' },
    reads: TOPICS,
  }),
} as const;
