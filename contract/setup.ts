import { SUPPLIER_CHOICES } from '#core/workspace/types.ts';
import { BREAK_COUNTS, BREAK_KINDS, BREAK_WAYS } from '#core/quotes/breaks.ts';
import { FLOOR_KINDS, FLOOR_OUTCOMES } from '#core/quotes/floors.ts';
import { type InferType, array, boolean, number, object, string } from 'yup';
import { currencyCode, dayText, decimalText, idText, optional, positiveText, wholeNumber, text } from './fields.ts';

const name = () => text().required().max(120);

export const supplierBody = object({
  name: name(),
  currency: currencyCode().required(),
  freightPer: optional(string().oneOf(['kg', 'unit'] as const)),
  freightAmount: optional(positiveText()),
  freightCurrency: optional(currencyCode()),
  dutyPercent: optional(positiveText()),
  handlingAmount: optional(positiveText()),
  handlingCurrency: optional(currencyCode()),
  overheadPercent: optional(positiveText()),
}).noUnknown();
export const categoryBody = object({ name: name(), parentId: optional(idText()) }).noUnknown();
export const taxRateBody = object({
  taxClass: name(),
  percent: positiveText().required(),
  validFrom: dayText().required(),
}).noUnknown();
export const exchangeRateBody = object({
  fromCurrency: currencyCode().required(),
  toCurrency: currencyCode().required(),
  day: dayText().required(),
  rate: positiveText()
    .required()
    .test('above zero', 'must be more than 0', (t) => Number(t) > 0),
}).noUnknown();
export const customerGroupBody = object({
  name: name(),
  /** What buyers see; empty: the name. */
  shownAs: optional(text().max(120)),
  rank: wholeNumber().required(),
}).noUnknown();
/** A copy of a group under another name, with its reductions, breaks, floors and the lists that are meant for it. */
export const copyGroupBody = object({ name: name() }).noUnknown();
export const customerBody = object({
  name: name(),
  groupId: optional(idText()),
  active: boolean().default(true),
}).noUnknown();
export const listBody = object({
  name: name(),
  currency: currencyCode().required(),
  taxIn: boolean().required(),
  decimals: number().integer().min(0).max(6).nullable().default(null),
  advertised: boolean().default(false),
  /** A list begins inactive: with nobody named it would answer everybody at once. */
  active: boolean().default(false),
  validFrom: optional(dayText()),
  validTo: optional(dayText()),
  rank: wholeNumber().required(),
  recipe: optional(idText()),
  groups: array(idText().required()).default([]),
}).noUnknown();
export const breakTableBody = object({
  name: name(),
  list: idText().required(),
  item: optional(idText()),
  category: optional(idText()),
  way: string().oneOf(BREAK_WAYS).required(),
  count: string().oneOf(BREAK_COUNTS).required(),
  rows: array(
    object({
      from: positiveText().required(),
      kind: string().oneOf(BREAK_KINDS).required(),
      value: positiveText().required(),
    }).noUnknown(),
  )
    .required()
    .min(1)
    .max(50),
}).noUnknown();
export const floorBody = object({
  name: name(),
  kind: string().oneOf(FLOOR_KINDS).required(),
  value: decimalText().required(),
  currency: optional(currencyCode()),
  itemId: optional(idText()),
  categoryId: optional(idText()),
  brand: optional(text()),
  groupId: optional(idText()),
  outcome: string().oneOf(FLOOR_OUTCOMES).required(),
  active: boolean().default(true),
}).noUnknown();
export const settingsBody = object({
  name: name(),
  currency: currencyCode().required(),
  timeZone: name(),
  supplierChoice: string().oneOf(SUPPLIER_CHOICES).required(),
  showsCostFloors: boolean().default(false),
}).noUnknown();

/** The registers behind the Setup entry: each is a list of records with a version. */
export const REGISTERS = {
  suppliers: supplierBody,
  categories: categoryBody,
  'tax-rates': taxRateBody,
  'exchange-rates': exchangeRateBody,
  'customer-groups': customerGroupBody,
  customers: customerBody,
  lists: listBody,
  breaks: breakTableBody,
  floors: floorBody,
} as const;
export type RegisterName = keyof typeof REGISTERS;

/** Any record of a register as it travels. */
export type Recorded<T> = T & { id: string; version: number };
export type ListBody = InferType<typeof listBody>;
export type BreakTableBody = InferType<typeof breakTableBody>;
