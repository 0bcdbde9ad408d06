import { findingRoutes } from '#contract/api/findings.ts';
import { api, readsAll } from '../api.ts';

export const findingsApi = api.injectEndpoints({
  endpoints: (b) => ({
    findings: readsAll(b, findingRoutes.all),
    proofs: readsAll(b, findingRoutes.proofs),
  }),
});
