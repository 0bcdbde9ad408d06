import { itemChangesBody, mergeValuesBody } from '../items.ts';
import { DAY, FIGURES, get, post } from './declare.ts';

export const itemRoutes = {
  all: get('/items', 'Every item as it is on a day, with its landed cost for who may see it', 'items', {
    right: 'read',
    query: DAY,
    reads: FIGURES,
  }),
  page: get('/items/:id/page', 'One item with everything about it on a day', 'item', {
    right: 'read',
    query: DAY,
    reads: [...FIGURES, 'quotes'],
  }),
  record: get('/items/:id', 'An item as it is kept, to be changed', 'record', { right: 'read', reads: ['catalogue'] }),
  change: post('/items/changes', 'Changes fields of items, all or none, each against what was seen in it', 'changed', {
    right: 'edit_rules',
    body: itemChangesBody,
    mostValues: 1_500_000,
    changes: ['catalogue'],
  }),
  merge: post('/items/merge-values', 'Writes a value that is written in several ways in one', 'changed', {
    right: 'edit_rules',
    body: mergeValuesBody,
    changes: ['catalogue'],
  }),
} as const;
