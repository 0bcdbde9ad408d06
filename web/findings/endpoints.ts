import { findingRoutes } from '#contract/api/findings.ts';
import type { FINDINGS_QUERY } from '#contract/findings.ts';
import { api, changes, reads, readsAll } from '../api.ts';

/** A record as it stands in a form; with a day it would begin then. */
export interface ChangeAsked {
  readonly register: string;
  readonly id: string | null;
  readonly body: Record<string, unknown>;
  readonly day?: string;
  readonly upon?: readonly string[];
}

/** Which findings are asked for: none named, all of them. */
export type FindingsAsked = Readonly<Partial<Record<keyof typeof FINDINGS_QUERY, string>>>;

export const findingsApi = api.injectEndpoints({
  endpoints: (b) => ({
    findings: reads(b, findingRoutes.all, (query: FindingsAsked) => ({ query })),
    proofs: readsAll(b, findingRoutes.proofs),
    movesOfChange: changes(b, findingRoutes.movesOfChange, (body: ChangeAsked) => ({ body })),
    findingsOfChange: changes(b, findingRoutes.ofChange, (body: ChangeAsked) => ({ body })),
  }),
});
