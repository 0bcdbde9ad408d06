import { askForConnectionBody, browseBody, connectionBody, fetchNowBody } from '../connections.ts';
import { get, post, put } from './declare.ts';

export const connectionRoutes = {
  all: get('/connections', 'How each supplier is connected', 'connections', { right: 'see_cost', reads: ['sheets'] }),
  ofItem: get('/items/:id/connection', 'How the supplier of an item is connected', 'connection', {
    right: 'read',
    reads: ['sheets'],
  }),
  browse: post('/connections/browse', 'What a supplier’s service offers to an account', 'supplier_catalogue', {
    right: 'edit_rules',
    body: browseBody,
  }),
  keep: put('/connections/:id', 'Connects a supplier, changes how, or stops it', 'connection', {
    right: 'edit_rules',
    body: connectionBody,
    changes: ['sheets'],
  }),
  fetch: post('/connections/:id/fetch', 'Asks a supplier’s service now', 'connection', {
    right: 'take_costs',
    body: fetchNowBody,
    changes: ['sheets'],
  }),
  ask: post('/connection-requests', 'Asks for a connection to the supplier of an item', 'connection', {
    right: 'write_quotes',
    body: askForConnectionBody,
    changes: ['sheets'],
  }),
} as const;
