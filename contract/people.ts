import { array, type InferType, object, string } from 'yup';
import { dayText, newPassword, text } from './fields.ts';

export const ROLES = ['administrator', 'approver', 'seller', 'reader'] as const;
export type Role = (typeof ROLES)[number];

export const RIGHTS = [
  'read',
  'see_cost',
  'edit_rules',
  'take_costs',
  'post',
  'write_quotes',
  'write_others_quotes',
  'approve',
  'manage_people',
] as const;
export type Right = (typeof RIGHTS)[number];

export const RIGHT_NAMES: Record<Right, string> = {
  read: 'read',
  see_cost: 'see costs',
  edit_rules: 'change items, recipes and lists',
  take_costs: 'take in costs',
  post: 'post prices',
  write_quotes: 'write quotes',
  write_others_quotes: 'change quotes that others wrote',
  approve: 'approve quotes',
  manage_people: 'manage people',
};

const ROLE_RIGHTS: Record<Role, readonly Right[]> = {
  administrator: RIGHTS,
  approver: ['read', 'see_cost', 'post', 'approve'],
  seller: ['read', 'write_quotes'],
  reader: ['read'],
};

/** What a person may do; seeing costs can be given to anyone. */
export function rightsOf(person: { role: Role; seesCost: boolean }): ReadonlySet<Right> {
  const rights = new Set(ROLE_RIGHTS[person.role]);
  if (person.seesCost) rights.add('see_cost');
  return rights;
}

export const signInBody = object({
  signIn: text().required('Enter your sign-in name'),
  password: string().required('Enter your password'),
}).noUnknown();
export type SignInBody = InferType<typeof signInBody>;

/** Who is signed in, and the token that every change must carry. */
export interface SessionInfo {
  person: { id: string; name: string; role: Role; rights: Right[] } | null;
  token: string;
  workspace: { name: string; currency: string; today: string; timeZone: string };
}

export const ownPasswordBody = object({
  current: string().required('Enter your present password'),
  password: newPassword().required('Enter the new password'),
}).noUnknown();
export type OwnPasswordBody = InferType<typeof ownPasswordBody>;

/** A place where one is signed in. */
export interface OwnSession {
  /** Names the session; of no use for signing in. */
  id: string;
  /** Moments, ISO 8601. */
  signedInAt: string;
  lastSeen: string;
  address: string;
  /** As the browser names itself. */
  browser: string;
  /** The one this is asked from. */
  current: boolean;
}

/** A key with which a program asks in a person's name. */
export const accessKeyBody = object({
  name: text().required('Say what it is for').max(80),
  rights: array(string().oneOf(RIGHTS).required()).required().min(1, 'Choose at least one right'),
  lastDay: dayText().required('Say until when it may be used'),
}).noUnknown();
export type AccessKeyBody = InferType<typeof accessKeyBody>;

export interface AccessKey {
  id: string;
  name: string;
  /** Those the person has no more count no more. */
  rights: Right[];
  lastDay: string;
  madeAt: string;
  lastUsed: string | null;
}

/** Shown once: only its hash is kept. */
export interface FreshKey extends AccessKey {
  key: string;
}
