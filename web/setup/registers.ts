import type { ComponentType } from 'react';
import type { Right } from '#contract/people.ts';
import type { Fields } from '#contract/records/declare.ts';

/** The headings of Setup, in the order of the work. */
export const PARTS = ['Costs', 'Prices', 'Buyers', 'Quotes', 'The house'] as const;
export type Part = (typeof PARTS)[number];

/** A kind of record as its table and its form show it. */
export interface RegisterView {
  readonly name: string;
  readonly title: string;
  readonly one: string;
  readonly about: string;
  readonly right: Right;
  readonly changeRight: Right;
  readonly fields: Fields;
  readonly start: Readonly<Record<string, unknown>>;
  readonly removable: boolean;
  /** Under which heading it stands. */
  readonly part: Part;
  /** The field, a day, by which the records are sorted, the latest first. */
  readonly latestFirst?: string;
  /** Only one record, never a new one. */
  readonly single?: boolean;
  /** `beside` is shown of a new record too; its `id` is then empty. */
  readonly besideNew?: true;
  /** What the form shows beside its fields, of a record that exists. */
  readonly beside?: ComponentType<{
    id: string;
    body: Record<string, unknown>;
    before: Record<string, unknown>;
  }>;
}
