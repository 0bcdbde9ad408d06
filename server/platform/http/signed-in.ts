import type { Right, Role } from '#contract/people.ts';
import type { Revisions } from '../../ledger/audit.ts';

export interface SignedIn {
  readonly id: number;
  readonly name: string;
  readonly role: Role;
  readonly rights: ReadonlySet<Right>;
}

/** Who asks, and what prices are made from as it stood when that was looked up: after the request was sent, in the primary database. */
export interface Identified {
  readonly person: SignedIn;
  readonly revisions: Revisions;
}
