import { findingRoutes } from '#contract/api/findings.ts';
import { api, changes, readsAll } from '../api.ts';

/** A record as it stands in a form; with a day it would begin then. */
export interface ChangeAsked {
  readonly register: string;
  readonly id: string | null;
  readonly body: Record<string, unknown>;
  readonly day?: string;
  readonly upon?: readonly string[];
}

export const findingsApi = api.injectEndpoints({
  endpoints: (b) => ({
    findings: readsAll(b, findingRoutes.all),
    proofs: readsAll(b, findingRoutes.proofs),
    movesOfChange: changes(b, findingRoutes.movesOfChange, (body: ChangeAsked) => ({ body })),
    findingsOfChange: changes(b, findingRoutes.ofChange, (body: ChangeAsked) => ({ body })),
  }),
});
