import { type AnyObjectSchema, object } from 'yup';
import { wholeNumber } from '../fields.ts';
import { namedRecordsBody } from '../records/found.ts';
import { copyGroupBody } from '../setup.ts';
import type { Right } from '../people.ts';
import { type Declared, type Topic, get, post, put, remove } from './declare.ts';

/** What is done to customer groups besides keeping them. */
export const groupRoutes = {
  copy: post(
    '/customer-groups/:id/copy',
    'Copies a group with its reductions, breaks, floors and list audiences',
    'record',
    {
      right: 'edit_rules',
      body: copyGroupBody,
      changes: ['rules'],
    },
  ),
} as const;

/** Records that are chosen by their names. */
export const foundRoutes = {
  found: get('/records-found', 'Records of a register whose names hold a text, the first twelve', 'found_records', {
    right: 'read',
    query: { register: 'such as customers or categories', text: 'words of the name; none: the first' },
    reads: ['rules', 'catalogue', 'settings'],
  }),
  named: post(
    '/records-named',
    'Records by their register and ids; those of registers that may not be read are left out',
    'named_records',
    {
      right: 'read',
      body: namedRecordsBody,
      mostValues: 60_000,
      reads: ['rules', 'catalogue', 'settings'],
    },
  ),
} as const;

/** A kind of record that people keep, as its addresses show it. */
export interface KeptKind {
  /** In the address: /api/NAME. */
  readonly name: string;
  /** In sentences: "The recipe". */
  readonly title: string;
  readonly body: AnyObjectSchema;
  readonly readRight: Right;
  readonly changeRight: Right;
  /** There is one record and no other: none can be added. */
  readonly single?: boolean;
  readonly removable?: boolean;
  /** Changed only by somebody who is signed in, never with an access key. */
  readonly inPerson?: boolean;
}

const expected = { version: wholeNumber().required() };

/** What a change of a record makes stale. */
export const topicOf = (name: string): Topic =>
  name === 'categories' || name === 'items'
    ? 'catalogue'
    : name === 'settings' || name === 'people'
      ? 'settings'
      : 'rules';

/** The addresses of a kind of record: read, added, changed (against the version that was seen), removed. */
export function recordRoutes(kind: KeptKind) {
  const path = `/${kind.name}`;
  const one = kind.title.replace(/^The /, '');
  const topic = topicOf(kind.name);
  const change = { right: kind.changeRight, changes: [topic], ...(kind.inPerson ? { inPerson: true as const } : {}) };
  const versioned = kind.body.concat(object(expected));
  return {
    all: get(path, `All of: ${one}`, 'records', { right: kind.readRight, reads: [topic] }),
    add: kind.single ? null : post(path, `Adds: ${one}`, 'record', { ...change, body: kind.body }),
    change: put(`${path}/:id`, `Changes: ${one}, against the version that was seen`, 'record', {
      ...change,
      body: versioned,
    }),
    remove: kind.removable
      ? remove(`${path}/:id`, `Removes: ${one} that nothing points to`, 'removed', {
          ...change,
          body: object(expected),
        })
      : null,
  } satisfies Record<string, Declared | null>;
}
