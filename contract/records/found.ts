import { array, object } from 'yup';
import { idText, text } from '../fields.ts';

/** A record as it is found and chosen. */
export interface FoundRecord {
  id: string;
  name: string;
  /** What tells it from others of its name: a list's currency, what a category lies below. */
  detail: string | null;
}

/** So many are offered at once. */
export const MOST_FOUND = 12;

const askedOf = object({
  register: text().required().max(40),
  ids: array(idText().required()).max(5_000).required(),
}).noUnknown();

export const namedRecordsBody = object({ of: array(askedOf.required()).max(40).required() }).noUnknown();

export interface NamedRecords {
  register: string;
  records: FoundRecord[];
}
