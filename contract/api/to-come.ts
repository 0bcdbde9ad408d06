import { object } from 'yup';
import { wholeNumber } from '../fields.ts';
import { planBody } from '../to-come.ts';
import { get, post, remove } from './declare.ts';

export const toComeRoutes = {
  all: get('/changes-to-come', 'Changes of rules that begin on a day to come, the nearest first', 'changes_to_come', {
    right: 'read',
    reads: ['rules'],
  }),
  plan: post('/changes-to-come', 'Has a record changed, or removed, from a day to come on', 'change_to_come', {
    right: 'edit_rules',
    body: planBody,
    changes: ['rules'],
  }),
  drop: remove('/changes-to-come/:id', 'Drops a change to come', 'removed', {
    right: 'edit_rules',
    body: object({ version: wholeNumber().required() }),
    changes: ['rules'],
  }),
} as const;
