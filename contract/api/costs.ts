import { correctRowsBody, matchBody, releaseCostBody, takeInBody, typedCostBody } from '../costs.ts';
import { versionBody } from '../quotes.ts';
import { get, post, put } from './declare.ts';

export const costRoutes = {
  sheets: get('/cost-sheets', 'The cost sheets that came, the newest first', 'sheets', {
    right: 'see_cost',
    reads: ['sheets'],
  }),
  receive: post('/cost-sheets', 'Brings in a cost sheet (CSV), which then waits', 'sheet_received', {
    right: 'take_costs',
    query: { supplier: 'id of the supplier it came from', file: 'name of the file' },
    body: 'bytes',
    changes: ['sheets'],
  }),
  sheet: get('/cost-sheets/:id', 'A cost sheet with what it would change, or did', 'sheet', {
    right: 'see_cost',
    reads: ['sheets', 'catalogue', 'costs'],
  }),
  match: put('/cost-sheets/:id/match', 'Says how a sheet is to be read', 'sheet', {
    right: 'take_costs',
    body: matchBody,
    changes: ['sheets'],
  }),
  correct: put('/cost-sheets/:id/rows', 'Leaves out or corrects rows of a sheet', 'sheet', {
    right: 'take_costs',
    body: correctRowsBody,
    changes: ['sheets'],
  }),
  takeIn: post('/cost-sheets/:id/take-in', 'Takes the costs of a sheet in', 'taken_in', {
    right: 'take_costs',
    body: takeInBody,
    changes: ['sheets', 'costs', 'catalogue'],
  }),
  setAside: post('/cost-sheets/:id/set-aside', 'Sets a sheet aside', 'set_aside', {
    right: 'take_costs',
    body: versionBody,
    changes: ['sheets'],
  }),
  takeBack: post('/cost-sheets/:id/take-back', 'Takes back what a sheet brought', 'taken_back', {
    right: 'take_costs',
    body: versionBody,
    changes: ['sheets', 'costs'],
  }),
  ofItem: get('/items/:id/costs', 'Every cost of an item, by day', 'item_costs', {
    right: 'see_cost',
    reads: ['costs'],
  }),
  type: post('/costs', 'Types a cost of an item', 'cost_kept', {
    right: 'take_costs',
    body: typedCostBody,
    changes: ['costs'],
  }),
  release: post('/costs/:id/release', 'Releases a typed cost, or lets it count again', 'cost_released', {
    right: 'take_costs',
    body: releaseCostBody,
    changes: ['costs'],
  }),
} as const;
