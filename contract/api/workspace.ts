import { FIGURES, get, post } from './declare.ts';
import { DAY } from '../days.ts';

export const workspaceRoutes = {
  replica: get('/replica', 'How far the copy of the database that is read from lags behind', 'replica', {
    right: 'read',
  }),
  file: get(
    '/workspace-file',
    'The whole workspace as a file, as it is on a day',
    { bytes: 'application/json' },
    {
      right: 'edit_rules',
      query: DAY,
      reads: FIGURES,
    },
  ),
  compare: post(
    '/workspace-file/difference',
    'What a workspace file has that is not here, and the other way round',
    'file_difference',
    {
      right: 'edit_rules',
      query: DAY,
      body: 'bytes',
      reads: FIGURES,
    },
  ),
} as const;
