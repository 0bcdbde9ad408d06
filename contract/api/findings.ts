import { FIGURES, get } from './declare.ts';

export const findingRoutes = {
  all: get('/findings', 'What the check finds in the set-up', 'findings', { right: 'see_cost', reads: FIGURES }),
  proofs: get('/findings/proofs', 'Every proof asked again', 'proofs', { right: 'see_cost', reads: FIGURES }),
} as const;
