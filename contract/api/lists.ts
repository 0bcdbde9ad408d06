import { postBody, postShownBody, rowsBody, toPostBody } from '../lists.ts';
import { letFallBody } from '../posting-requests.ts';
import { plainSchema } from '../records/plain.ts';
import { WINDOW_QUERY } from '../windows.ts';
import { FIGURES, get, post } from './declare.ts';
import { DAY } from '../days.ts';

const wholeList = plainSchema('lists');

export const listRoutes = {
  prices: get('/lists/:id/prices', 'A stretch of the prices of a list on a day, posted and computed', 'list_prices', {
    right: 'read',
    query: WINDOW_QUERY,
    reads: FIGURES,
  }),
  rows: post('/lists/:id/rows', 'Prices of a list by the codes of their items', 'list_rows', {
    right: 'read',
    query: DAY,
    body: rowsBody,
    reads: FIGURES,
  }),
  toPost: post('/lists/:id/to-post', 'What posting the rows of a list that fit would come to', 'would_post', {
    right: 'post',
    query: DAY,
    body: toPostBody,
    mostValues: 1_000_000,
    reads: FIGURES,
  }),
  postShown: post('/lists/:id/shown-postings', 'Posts the rows of a list that fit, as they were seen', 'posted', {
    right: 'post',
    query: DAY,
    body: postShownBody,
    mostValues: 1_000_000,
    changes: ['prices', 'requests'],
  }),
  buildUp: get('/lists/:id/build-up/:item/:pack', 'How one price of a list came about', 'build_up', {
    right: 'read',
    query: DAY,
    reads: FIGURES,
  }),
  asCatalogue: get(
    '/lists/:id/ubl',
    'What a list asks on a day, without tax, as a UBL catalogue',
    { bytes: 'application/xml' },
    {
      right: 'read',
      query: DAY,
    },
  ),
  days: get('/lists/:id/days', 'What a list asks on two days: a page of the prices that differ', 'compared_days', {
    right: 'read',
    query: {
      from: 'the one day (2026-03-09)',
      to: 'the other; none: today',
      shows: 'all, up, down, new or gone',
      find: 'words of code, name or pack',
      at: 'how many are passed over',
    },
    reads: FIGURES,
  }),
  falls: get('/falls', 'Prices that “raise only” keeps from falling, with the money it means', 'falls', {
    right: 'see_cost',
    reads: [...FIGURES, 'quotes'],
  }),
  letFall: post('/falls/postings', 'Lets prices fall, on all their lists or on none', 'posted', {
    right: 'post',
    body: letFallBody,
    mostValues: 400_000,
    changes: ['prices', 'requests'],
  }),
  audience: post('/lists/:id/audience', 'Whom a list would answer with these terms', 'audience', {
    right: 'edit_rules',
    body: wholeList,
    reads: FIGURES,
  }),
  post: post('/lists/:id/postings', 'Posts prices on a list', 'posted', {
    right: 'post',
    body: postBody,
    mostValues: 2_500_000,
    changes: ['prices', 'requests'],
  }),
} as const;
