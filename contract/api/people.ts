import { accessKeyBody, ownPasswordBody } from '../people.ts';
import { get, post, put, remove } from './declare.ts';

/** What a person does about the own account. */
export const ownRoutes = {
  password: put('/me/password', 'Changes the own password and ends every other session', 'ended', {
    right: 'read',
    inPerson: true,
    body: ownPasswordBody,
    changes: ['sessions'],
  }),
  sessions: get('/me/sessions', 'The places where one is signed in', 'sessions', {
    right: 'read',
    inPerson: true,
    reads: ['sessions'],
  }),
  endSession: remove('/me/sessions/:id', 'Ends one of the own sessions', 'ended', {
    right: 'read',
    inPerson: true,
    changes: ['sessions'],
  }),
  keys: get('/me/keys', 'The own access keys, without their secrets', 'access_keys', {
    right: 'read',
    inPerson: true,
    reads: ['keys'],
  }),
  makeKey: post('/me/keys', 'Makes an access key; the answer is the only place where it is shown', 'access_key_made', {
    right: 'read',
    inPerson: true,
    body: accessKeyBody,
    changes: ['keys'],
  }),
  endKey: remove('/me/keys/:id', 'Ends an access key', 'removed', { right: 'read', inPerson: true, changes: ['keys'] }),
} as const;
