import { followRatesBody } from '../fetched-rates.ts';
import { get, post, put } from './declare.ts';

export const rateRoutes = {
  fetched: get(
    '/fetched-rates',
    'Exchange rates as the service quotes them, beside those that count',
    'fetched_rates',
    {
      right: 'see_cost',
      reads: ['rules'],
    },
  ),
  fetch: post('/fetched-rates/fetch', 'Asks the service of rates now', 'fetched_rates', {
    right: 'edit_rules',
    changes: ['rules'],
  }),
  follow: put('/fetched-rates', 'Says whether the newest rates are taken by themselves', 'fetched_rates', {
    right: 'edit_rules',
    body: followRatesBody,
    changes: ['rules'],
  }),
} as const;
