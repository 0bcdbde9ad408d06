import { get } from './declare.ts';

export const todayRoutes = {
  today: get('/today', 'What waits for somebody, and where it is settled', 'today', {
    right: 'read',
    reads: ['catalogue', 'costs', 'rules', 'prices', 'requests', 'sheets', 'quotes', 'settings'],
  }),
  search: get('/search', 'Everything whose name or code holds a text', 'found', {
    right: 'read',
    query: { text: 'what is looked for' },
  }),
} as const;
