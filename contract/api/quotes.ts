import { changeQuoteBody, decideBody, priceCheckBody, quoteBody, versionBody } from '../quotes.ts';
import { acceptBody, changeOrderBody, keepChangeBody } from '../change-orders.ts';
import { FIGURES, get, post, put, remove } from './declare.ts';

export const quoteRoutes = {
  all: get('/quotes', 'Quotes, the newest first', 'quotes', { right: 'read', reads: ['quotes'] }),
  write: post('/quotes', 'Writes a quote', 'quote', { right: 'write_quotes', body: quoteBody, changes: ['quotes'] }),
  figures: post('/quotes/figures', 'The figures of a quote that is being written; nothing is kept', 'quote_tried', {
    right: 'write_quotes',
    body: quoteBody,
    reads: FIGURES,
  }),
  one: get('/quotes/:id', 'A quote with its figures', 'quote', { right: 'read', reads: ['quotes', ...FIGURES] }),
  change: put('/quotes/:id', 'Changes a draft', 'quote', {
    right: 'write_quotes',
    body: changeQuoteBody,
    changes: ['quotes'],
  }),
  ask: post('/quotes/:id/ask', 'Asks for approval', 'quote', {
    right: 'write_quotes',
    body: versionBody,
    changes: ['quotes'],
  }),
  issue: post('/quotes/:id/issue', 'Issues a quote: its prices are kept with it', 'quote', {
    right: 'write_quotes',
    body: versionBody,
    changes: ['quotes'],
  }),
  decide: post('/quotes/:id/decide', 'Approves or declines', 'quote', {
    right: 'approve',
    body: decideBody,
    changes: ['quotes'],
  }),
  pdf: get('/quotes/:id/pdf', 'The quote as a PDF', { bytes: 'application/pdf' }, { right: 'read' }),
  countryOf: get('/country-of', 'The country of an address of a network, as a service knows it', 'country_of', {
    right: 'read',
    query: { address: 'such as 203.0.113.7, or of the longer kind' },
  }),
  priceCheck: post('/price-check', 'What somebody would pay on a day, and every reason for it', 'price_check', {
    right: 'read',
    body: priceCheckBody,
    reads: FIGURES,
  }),
  accept: post(
    '/quotes/:id/accept',
    'Writes down that the customer accepted; its terms are kept from then on',
    'chain',
    {
      right: 'write_quotes',
      body: acceptBody,
      changes: ['quotes'],
    },
  ),
  chain: get('/quotes/:id/changes', 'An accepted quote with every change to it: was, will be, difference', 'chain', {
    right: 'read',
    reads: ['quotes'],
  }),
  tryChange: post(
    '/quotes/:id/changes/figures',
    'The chain with a change that is being written; nothing is kept',
    'chain',
    {
      right: 'write_quotes',
      body: changeOrderBody,
      reads: ['quotes', ...FIGURES],
    },
  ),
  keepChange: put('/quotes/:id/changes/draft', 'Keeps the draft of a change order', 'chain', {
    right: 'write_quotes',
    body: keepChangeBody,
    changes: ['quotes'],
  }),
  dropChange: remove('/quotes/:id/changes/draft', 'Drops the draft of a change order', 'chain', {
    right: 'write_quotes',
    body: versionBody,
    changes: ['quotes'],
  }),
  issueChange: post('/quotes/:id/changes/issue', 'Issues the draft: its figures stay as they are', 'chain', {
    right: 'read',
    body: versionBody,
    changes: ['quotes'],
  }),
} as const;
