import { FINDINGS_QUERY, changeBody } from '../findings.ts';
import { FIGURES, get, post } from './declare.ts';

export const findingRoutes = {
  all: get('/findings', 'What the check finds in the set-up: a page of it', 'findings', {
    right: 'see_cost',
    query: FINDINGS_QUERY,
    reads: FIGURES,
  }),
  proofs: get('/findings/proofs', 'Every proof asked again', 'proofs', { right: 'see_cost', reads: FIGURES }),
  ofChange: post(
    '/findings/of-change',
    'What keeping a record would add and settle; nothing is kept',
    'findings_of_change',
    {
      right: 'see_cost',
      body: changeBody,
    },
  ),
  movesOfChange: post(
    '/findings/moves-of-change',
    'Which computed prices keeping a record would move, list by list; nothing is kept',
    'moves_of_change',
    { right: 'see_cost', body: changeBody },
  ),
} as const;
