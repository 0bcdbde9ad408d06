import { type AnySchema, array, boolean, mixed, object, string } from 'yup';
import {
  barcodeText,
  currencyCode,
  dayText,
  decimalText,
  idText,
  lowerText,
  newPassword,
  optional,
  positiveText,
  priceText,
  text,
  wholeNumber,
} from '../fields.ts';
import { conditionFaults } from './condition.ts';
import { type Field, type Fields, TIES, TIE_FIELDS } from './declare.ts';

const MOST_ROWS = 5000;

/** The schema of a record from its declaration; the browser and the server hold what is sent to the same one. */
export function schemaOf(fields: Fields) {
  const sometimes = Object.entries(fields).filter(([, f]) => f.when ?? typeof f.optional === 'function');
  const shape = object(
    Object.fromEntries(Object.entries(fields).map(([name, f]) => [name, fieldSchema(f)])),
  ).noUnknown();
  if (sometimes.length === 0) return shape;
  return shape.test('needed', '', (row, context) => {
    const given = row as Readonly<Record<string, unknown>>;
    const missing = sometimes.find(
      ([name, f]) => (f.when?.(given) ?? true) && !mayBeEmpty(f, given) && isEmpty(given[name]),
    );
    if (!missing) return true;
    return context.createError({
      path: context.path ? `${context.path}.${missing[0]}` : missing[0],
      message: 'is needed here',
    });
  });
}

const mayBeEmpty = (f: Field, row: Readonly<Record<string, unknown>>): boolean =>
  typeof f.optional === 'function' ? f.optional(row) : (f.optional ?? false);
const isEmpty = (value: unknown) => value === null || value === undefined || value === '';

function fieldSchema(f: Field): AnySchema {
  // what is only asked for in some cases may be missing in the others
  const needed = !f.optional && !f.when;
  const single = (schema: AnySchema): AnySchema => (needed ? schema.required() : optional(schema as never));
  switch (f.type) {
    case 'text':
      return single(f.barcode ? barcodeText() : (f.lower ? lowerText() : text()).max(f.most ?? 200));
    case 'secret':
      return single(newPassword());
    case 'texts':
      return array(text().required().max(120)).max(200).default([]);
    case 'decimals':
      return array(positiveText().required())
        .required()
        .min(f.least ?? 0, `needs at least one ${f.one}`);
    case 'decimal':
      return single({ not_negative: positiveText, positive: priceText, any: decimalText }[f.sign ?? 'any']());
    case 'whole':
      return single(
        wholeNumber()
          .min(f.least ?? 1)
          .max(f.most ?? 2_147_483_647),
      );
    case 'yes':
      return f.needed ? boolean().required() : boolean().default(f.preset ?? false);
    case 'day':
      return single(dayText());
    case 'currency':
      return single(currencyCode());
    case 'country':
      return single(countryCode());
    case 'countries':
      return array(countryCode().required()).max(400).default([]);
    case 'choice': {
      const schema = string().oneOf([...Object.keys(f.options), ...(needed ? [] : [null as never])]);
      return f.preset === undefined ? single(schema) : schema.default(f.preset);
    }
    case 'one':
      return single(idText());
    case 'many':
      return array(idText().required()).max(MOST_ROWS).default([]);
    case 'amount': {
      const schema = object({ amount: positiveText().required(), currency: currencyCode().required() }).noUnknown();
      return needed ? schema.required() : schema.nullable().default(null);
    }
    case 'attributes':
      return attributesSchema();
    case 'scope':
      return scopeSchema(f.ties, f.band);
    case 'scopes':
      return array(scopeSchema()).max(MOST_ROWS).default([]);
    case 'kept':
      return mixed()
        .nullable()
        .default(null)
        .test('kept', 'is made elsewhere, not typed', (value) => {
          if (value === null || value === undefined) return !needed;
          return typeof value === 'object' && Array.isArray(value) === (f.list ?? false);
        });
    case 'condition':
      return mixed()
        .nullable()
        .default(null)
        .test('condition', '', (value, context) => {
          const fault = conditionFaults(value)[0];
          return fault ? context.createError({ message: fault.message, path: `${context.path}${fault.path}` }) : true;
        });
    case 'part': {
      const schema = schemaOf(f.fields);
      return needed ? schema.required() : schema.nullable().default(null);
    }
    case 'rows': {
      const row = f.numbered
        ? object({ id: text().required().max(40) }).concat(schemaOf(f.fields))
        : schemaOf(f.fields);
      const rows = array(row.noUnknown()).max(f.most ?? MOST_ROWS);
      return f.least ? rows.required().min(f.least, `needs at least one ${f.one}`) : rows.default([]);
    }
  }
}

const countryCode = () =>
  text()
    .transform((value: unknown) => (typeof value === 'string' ? value.toUpperCase() : value))
    .matches(/^[A-Z]{2}$/, { message: 'must be a country code such as NO', excludeEmptyString: true });

const attributesSchema = () =>
  mixed<Record<string, string>>()
    .nullable()
    .default(null)
    .transform((value: unknown) =>
      value !== null && typeof value === 'object' && !Array.isArray(value)
        ? Object.fromEntries(Object.entries(value).map(([name, v]) => [name, typeof v === 'string' ? v.trim() : v]))
        : value,
    )
    .test('attributes', 'must be names with a text each', (value) => {
      if (value === null || value === undefined) return true;
      if (typeof value !== 'object' || Array.isArray(value)) return false;
      const entries = Object.entries(value as Record<string, unknown>);
      return (
        entries.length <= 50 &&
        entries.every(
          ([name, v]) => name !== '' && name.length <= 80 && typeof v === 'string' && v !== '' && v.length <= 200,
        )
      );
    });

const scopeSchema = (ties = TIES, band?: Fields) =>
  object({
    ...Object.fromEntries(ties.map((tie) => [tie, fieldSchema(TIE_FIELDS[tie])])),
    ...(band ? { band: schemaOf(band).nullable().default(null) } : {}),
  }).noUnknown();

/** A record without what its fields do not ask for in its case, so that no figure counts unseen. */
export function pruned<T extends object>(fields: Fields, row: T): T {
  const asked = { ...row } as Readonly<Record<string, unknown>>;
  return Object.fromEntries(
    Object.entries(asked).flatMap(([name, value]): [string, unknown][] => {
      const f = fields[name];
      if (!f) return [[name, value]];
      return (f.when?.(asked) ?? true) ? [[name, prunedValue(f, value)]] : [];
    }),
  ) as T;
}

function prunedValue(f: Field, value: unknown): unknown {
  if (f.type === 'rows' && Array.isArray(value)) return value.map((r) => pruned(f.fields, r as object));
  if (f.type === 'part' && value) return pruned(f.fields, value);
  if (f.type === 'scope' && value) return withoutNothing(value);
  if (f.type === 'scopes' && Array.isArray(value)) return value.map(withoutNothing);
  return value;
}

const withoutNothing = (value: unknown) =>
  Object.fromEntries(Object.entries(value as object).filter(([, v]) => v !== null && v !== undefined));
