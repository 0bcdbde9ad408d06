import { itemChangesBody, mergeValuesBody, namedItemsBody } from '../items.ts';
import { lockstepPreviewBody } from '../lockstep.ts';
import { WINDOW_QUERY } from '../windows.ts';
import { FIGURES, get, post } from './declare.ts';
import { DAY } from '../days.ts';

export const itemRoutes = {
  all: get('/items', 'A stretch of the items as they are on a day, with landed cost for who may see it', 'items', {
    right: 'read',
    query: WINDOW_QUERY,
    reads: FIGURES,
  }),
  page: get('/items/:id/page', 'One item with everything about it on a day', 'item', {
    right: 'read',
    query: DAY,
    reads: [...FIGURES, 'quotes'],
  }),
  found: get(
    '/items-found',
    'The first items that a text finds: all its words in code or name, or a barcode',
    'items_named',
    {
      right: 'read',
      query: { text: 'words of code or name, or a barcode' },
      reads: ['catalogue'],
    },
  ),
  named: post('/items-named', 'Items by their ids, as they are named in lines', 'items_named', {
    right: 'read',
    body: namedItemsBody,
    reads: ['catalogue'],
  }),
  words: get('/item-words', 'Names of packs, brands or models that are in use', 'item_words', {
    right: 'read',
    query: { of: 'packs, brands or models' },
    reads: ['catalogue'],
  }),
  values: get('/item-values', 'What items say of their brand or of an attribute, and how many say so', 'item_values', {
    right: 'read',
    query: { of: 'brand, or the name of an attribute' },
    reads: ['catalogue'],
  }),
  byCategory: get(
    '/items-by-category',
    'How many items lie in each category itself, without those below it',
    'items_by_category',
    {
      right: 'read',
      reads: ['catalogue'],
    },
  ),
  record: get('/items/:id', 'An item as it is kept, to be changed', 'record', { right: 'read', reads: ['catalogue'] }),
  change: post('/items/changes', 'Changes fields of items, all or none, each against what was seen in it', 'changed', {
    right: 'edit_rules',
    body: itemChangesBody,
    mostValues: 1_500_000,
    changes: ['catalogue'],
  }),
  file: get(
    '/item-file',
    'Every item as a text table',
    { bytes: 'text/csv' },
    {
      right: 'read',
      query: { decimal: 'comma: figures with a decimal comma, cells parted by semicolons' },
    },
  ),
  checkFile: post('/item-file/check', 'What a file of items would change; nothing is written', 'item_file', {
    right: 'edit_rules',
    query: { file: 'name of the file', decimal: 'comma or point; none: as most of its cells are written' },
    body: 'bytes',
  }),
  takeFile: post('/item-files', 'Takes a file of items in, as it was seen', 'item_file_taken', {
    right: 'edit_rules',
    query: { file: 'name of the file', decimal: 'comma or point', state: 'what it was compared with' },
    body: 'bytes',
    changes: ['catalogue'],
  }),
  files: get('/item-files', 'Files of items that were taken in, the newest first', 'item_files', {
    right: 'read',
    reads: ['catalogue'],
  }),
  takeFileBack: post('/item-files/:id/take-back', 'Takes back what a file of items did', 'changed', {
    right: 'edit_rules',
    changes: ['catalogue'],
  }),
  lockstep: post(
    '/lockstep-preview',
    'What a lockstep group as it would be changes, before it is kept',
    'lockstep_preview',
    {
      right: 'see_cost',
      body: lockstepPreviewBody,
      query: DAY,
    },
  ),
  merge: post('/items/merge-values', 'Writes a value that is written in several ways in one', 'changed', {
    right: 'edit_rules',
    body: mergeValuesBody,
    changes: ['catalogue'],
  }),
} as const;
