import type { Right, Role } from '#contract/people.ts';

export interface SignedIn {
  readonly id: number;
  readonly name: string;
  readonly role: Role;
  readonly rights: ReadonlySet<Right>;
}
