import { changeQuoteBody, decideBody, priceCheckBody, quoteBody, versionBody } from '../quotes.ts';
import { FIGURES, get, post, put } from './declare.ts';

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
  priceCheck: post('/price-check', 'What somebody would pay on a day, and every reason for it', 'price_check', {
    right: 'read',
    body: priceCheckBody,
    reads: FIGURES,
  }),
} as const;
