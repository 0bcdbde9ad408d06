import { findingRoutes } from '#contract/api/findings.ts';
import { api, changes, readsAll } from '../api.ts';

export const findingsApi = api.injectEndpoints({
  endpoints: (b) => ({
    findings: readsAll(b, findingRoutes.all),
    proofs: readsAll(b, findingRoutes.proofs),
    movesOfChange: changes(
      b,
      findingRoutes.movesOfChange,
      (body: { register: string; id: string | null; body: Record<string, unknown> }) => ({ body }),
    ),
    findingsOfChange: changes(
      b,
      findingRoutes.ofChange,
      (body: { register: string; id: string | null; body: Record<string, unknown> }) => ({ body }),
    ),
  }),
});
