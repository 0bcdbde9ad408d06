import { array, mixed, object } from 'yup';
import { dayText, idText, text, wholeNumber } from './fields.ts';

/**
 * Kinds of records whose changes may begin on a day to come, by their names in addresses. What has days of its own (rates,
 * entries, landed cost terms) is not among them: it is given those.
 */
export const TO_COME = [
  ...(['recipes', 'ladders', 'lists', 'suppliers', 'categories', 'customers', 'customer-groups'] as const),
  ...(['regions', 'reductions', 'breaks', 'pools', 'floors', 'rules', 'charges'] as const),
] as const;

/** A change of a record that begins on a day to come; `body` as the form has it, null: the record is removed. */
export const planBody = object({
  register: text().required().oneOf(TO_COME),
  record: idText().required(),
  /** Of the record, as it was seen. */
  version: wholeNumber().required(),
  day: dayText().required(),
  reason: text().required().max(200),
  /** The changes to come that the form began with: what it holds beyond those is the change. */
  upon: array(idText().required()).required().max(50),
  body: mixed<Record<string, unknown>>().nullable().defined(),
}).noUnknown();

export interface ChangeToCome {
  id: string;
  version: number;
  /** The kind of record, by its name in addresses, and the record in it. */
  register: string;
  record: string;
  name: string;
  /** The first day on which it holds. */
  day: string;
  reason: string;
  /** The fields that become another; null: the record is removed. */
  change: Record<string, unknown> | null;
  /** The same fields as they stand on the day before. */
  was: Record<string, unknown> | null;
  by: string;
  at: string;
  /** Why it could not be carried out on its day; null: it waits. */
  trouble: string | null;
}
