import { type InferType, array, number, object, string } from 'yup';
import { idText, optional, text, versionNumber } from './fields.ts';

export const CONNECTION_STATES = ['asked', 'on', 'off'] as const;
export type ConnectionState = (typeof CONNECTION_STATES)[number];

/** A service of a supplier, known by a name that the server resolves, or by its address. */
const address = () =>
  text()
    .required()
    .max(300)
    .matches(/^(https?:\/\/[^\s]+|stand-in\/[a-z]+)$/, 'must begin with https:// or http://, or name a stand-in');

const account = () => text().required('Give the account number that the supplier knows you by').max(60);

/** What is followed of a supplier, and how often it is asked. */
export const connectionBody = object({
  address: address(),
  account: account(),
  /** Brands that are followed; empty: all. */
  brands: array(text().required().max(100)).max(500).required(),
  everyHours: number()
    .integer()
    .min(1, 'must be at least 1 hour')
    .max(24 * 31)
    .required(),
  state: string()
    .oneOf(['on', 'off'] as const)
    .required(),
  /** 0: it is not known yet. */
  version: number().integer().min(0).required(),
}).noUnknown();
export type ConnectionBody = InferType<typeof connectionBody>;

export const browseBody = object({ address: address(), account: account() }).noUnknown();

/** A seller asks for a connection, from an item or a quote. */
export const askForConnectionBody = object({ item: idText().required(), note: optional(text().max(300)) }).noUnknown();
export const fetchNowBody = object({ version: versionNumber() }).noUnknown();

/** What a supplier's service offers. */
export interface SupplierCatalogue {
  supplier: string;
  currency: string;
  brands: { name: string; items: number }[];
  /** The first items of each brand, to see whether it is the right one. */
  items: { code: string; name: string; brand: string }[];
}

/** How a supplier is connected. */
export interface Connection {
  supplier: string;
  supplierName: string;
  /** 0: not connected and never asked for. */
  version: number;
  state: ConnectionState | null;
  /** Where it is, and by which account; null for those who may not change it. */
  address: string | null;
  account: string | null;
  brands: string[];
  everyHours: number;
  /** Who asked for it, and why. */
  askedBy: string | null;
  askedNote: string | null;
  lastTry: string | null;
  /** When it last answered well. */
  lastAnswer: string | null;
  /** What went wrong the last time; null: nothing. */
  trouble: string | null;
  nextTry: string | null;
  /** The sheet that came of the last answer that had something new. */
  lastSheet: string | null;
}
