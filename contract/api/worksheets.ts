import { postWorksheetBody, proposeBody } from '../worksheets.ts';
import { get, post, remove } from './declare.ts';

export const worksheetRoutes = {
  all: get('/worksheets', 'Worksheets, the newest first', 'worksheets', { right: 'see_cost', reads: ['worksheets'] }),
  one: get('/worksheets/:id', 'A worksheet with its lists and counts', 'worksheet', {
    right: 'see_cost',
    reads: ['worksheets'],
  }),
  prices: get('/worksheets/:id/lists/:list/prices', 'A page of the prices proposed for a list', 'worksheet_prices', {
    right: 'see_cost',
    query: {
      shows: 'which: changed, rises, falls, first, guarded, held, without or all',
      from: 'how many are passed over',
    },
  }),
  propose: post('/worksheets', 'Has prices proposed in the background', 'worksheet', {
    right: 'post',
    body: proposeBody,
    changes: ['worksheets'],
  }),
  post: post('/worksheets/:id/postings', 'Posts proposed prices in the background', 'worksheet', {
    right: 'post',
    body: postWorksheetBody,
    changes: ['worksheets', 'prices'],
  }),
  cancel: post('/worksheets/:id/cancel', 'Cancels a computation', 'worksheet', {
    right: 'post',
    changes: ['worksheets'],
  }),
  discard: remove('/worksheets/:id', 'Discards a worksheet', 'discarded', { right: 'post', changes: ['worksheets'] }),
} as const;
