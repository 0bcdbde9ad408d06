import { postWorksheetBody, proposeBody, reverseWorksheetBody } from '../worksheets.ts';
import { LINES_QUERY } from '../windows.ts';
import { get, post, remove } from './declare.ts';

export const worksheetRoutes = {
  all: get('/worksheets', 'Worksheets, the newest first', 'worksheets', { right: 'see_cost', reads: ['worksheets'] }),
  one: get('/worksheets/:id', 'A worksheet with its lists and counts', 'worksheet', {
    right: 'see_cost',
    reads: ['worksheets'],
  }),
  prices: get('/worksheets/:id/lists/:list/prices', 'A stretch of the prices proposed for a list', 'worksheet_prices', {
    right: 'see_cost',
    query: { ...LINES_QUERY, show: 'which: changed, rises, falls, first, guarded, held, without or all' },
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
  reverse: post('/worksheets/:id/reversals', 'Reverses what was posted of a worksheet in the background', 'worksheet', {
    right: 'post',
    body: reverseWorksheetBody,
    changes: ['worksheets', 'prices'],
  }),
  cancel: post('/worksheets/:id/cancel', 'Cancels what is under way: nothing of it is kept', 'worksheet', {
    right: 'post',
    changes: ['worksheets'],
  }),
  discard: remove('/worksheets/:id', 'Discards a worksheet', 'discarded', { right: 'post', changes: ['worksheets'] }),
} as const;
