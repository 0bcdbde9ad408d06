import { type TArray, type TOptional, type TProperties, type TSchema, type TUnsafe, Type } from '@sinclair/typebox';
import { type Field, type Fields, type FieldsOf, TIES, TIE_FIELDS } from '../records/declare.ts';
import type { Tie } from '#core/items/scope.ts';
import { kindNamed } from '../records/kinds.ts';
import type { PlainKind } from '../records/plain-kind.ts';
import {
  attributes,
  country,
  currency,
  day,
  decimal,
  id,
  maybe,
  name,
  notNegative,
  oneOf,
  optional,
  positive,
  record,
  rows,
  version,
  whole,
  yesNo,
} from './fields.ts';

export const amount = () => record({ amount: notNegative(), currency: currency() }, 'an amount with its currency');

const words = (f: Field): string => [f.title, f.hint].filter(Boolean).join(': ');
const decimalOf = (sign: 'not_negative' | 'positive' | undefined) =>
  sign === 'positive' ? positive() : sign === 'not_negative' ? notNegative() : decimal();

/** What the file says otherwise of a field, by its place in the record ("rungs.to"); null: it is not in the file. */
export type Own = Readonly<Record<string, ((declared: TSchema) => TSchema) | null>>;

/** How a declaration is carried into the file; `presets`: what is left out is filled in. */
interface Way {
  readonly own: Own;
  readonly presets: boolean;
}
const AS_DECLARED: Way = { own: {}, presets: true };

/** A field that holds a single value, as it stands in the file where it has one. */
function single(f: Field, at: string, way: Way): TSchema {
  switch (f.type) {
    case 'text':
      return name();
    case 'decimal':
      return decimalOf(f.sign);
    case 'whole':
      return whole(`a whole number: ${words(f)}`, f.least ?? 1);
    case 'day':
      return day();
    case 'currency':
      return currency();
    case 'country':
      return country();
    case 'choice':
      return oneOf(Object.keys(f.options));
    case 'one':
      return id();
    case 'amount':
      return amount();
    case 'attributes':
      return attributes();
    case 'scope':
      return scopeOf(f.ties ?? TIES, f.band ? { band: maybe(record(carried(f.band, `${at}.band.`, way))) } : {});
    case 'part':
      return record(carried(f.fields, `${at}.`, way), words(f));
    default:
      throw new Error(`a ${f.type} is written in the file by hand: ${f.title}`);
  }
}

/** What a rule is tied to. */
const scopeOf = (ties: readonly Tie[] = TIES, besides: TProperties = {}) =>
  record(
    { ...Object.fromEntries(ties.map((tie) => [tie, maybe(single(TIE_FIELDS[tie], tie, AS_DECLARED))])), ...besides },
    'what the rule is tied to; an empty object: everything',
  );

function fileField(f: Field, at: string, way: Way): TSchema {
  const list = (of: TSchema) => optional(Type.Array(of, { description: `a list: ${words(f)}` }));
  switch (f.type) {
    case 'yes':
      return f.needed ? yesNo(words(f)) : optional(yesNo(words(f), way.presets ? f.preset : undefined));
    case 'texts':
      return list(name());
    case 'decimals':
      return Type.Array(notNegative(), { minItems: f.least ?? 0, description: `a list of at least one ${f.one}` });
    case 'countries':
      return rows(country(), 'a list of countries');
    case 'many':
      return optional(rows(id(), `a list: ${words(f)}`));
    case 'scopes':
      return optional(rows(scopeOf(), `a list: ${words(f)}`));
    case 'rows': {
      const of = record({ ...(f.numbered ? { id: id() } : {}), ...carried(f.fields, `${at}.`, way) });
      return f.least ? Type.Array(of, { minItems: f.least, description: `a list of at least one ${f.one}` }) : list(of);
    }
    case 'choice':
      if (f.preset !== undefined) return optional(oneOf(Object.keys(f.options), way.presets ? f.preset : undefined));
      break;
    default:
  }
  // what is only asked for in some cases may be missing in the others
  return f.optional || f.when ? maybe(single(f, at, way)) : single(f, at, way);
}

/** The fields of a record, or of the part of it that stands under `under`. */
function carried(fields: Fields, under: string, way: Way): TProperties {
  const properties: TProperties = {};
  for (const [field, f] of Object.entries(fields)) {
    const own = way.own[under + field];
    if (own === null) continue;
    const declared = fileField(f, under + field, way);
    properties[field] = own ? own(declared) : declared;
  }
  for (const [at, own] of Object.entries(way.own)) {
    const field = at.slice(under.length);
    const only = at.startsWith(under) && !field.includes('.') && !(field in fields);
    if (own && only) properties[field] = own(Type.Any());
  }
  return properties;
}

/** The fields of a declared record as the workspace file has them. */
export const fileFields = (fields: Fields): TProperties => carried(fields, '', AS_DECLARED);

type FileFieldsOf<T> = {
  [K in keyof T]-?: undefined extends T[K] ? TOptional<TUnsafe<Exclude<T[K], undefined>>> : TUnsafe<T[K]>;
};
/** The same for members that a type of the core may lack: what the file leaves out stays out. */
export const fileFieldsOf = <T>(fields: FieldsOf<T>, own: Own = {}): FileFieldsOf<T> =>
  Object.fromEntries(
    Object.entries(carried(fields as Fields, '', { own, presets: false })).map(([name, schema]) => {
      const { default: _, ...bare } = schema;
      return [name, name in own ? schema : bare];
    }),
  ) as unknown as FileFieldsOf<T>;

/** Records with an id and a version, as they are declared for `T`. */
export const fileRows = <T>(fields: FieldsOf<T>, own: Own = {}, versioned = true): TArray<TUnsafe<T>> =>
  rows(
    Type.Unsafe<T>(
      record({
        id: id(),
        ...(versioned ? { version: version() } : {}),
        ...(fileFieldsOf<T>(fields, own) as unknown as TProperties),
      }),
    ),
  );

/** Records of a declared kind in the file; `T`: the core's type, to which the declaration is held. */
export function declaredRows<T>(kind: string): TArray<TUnsafe<T>> {
  const fields = kindNamed(kind)!.fields;
  return rows(Type.Unsafe<T>(record({ id: id(), version: version(), ...fileFields(fields) })));
}

/**
 * Records of a kind with a table of its own, as the file has them: what the core knows of them. `own`: what the file says
 * otherwise, such as what a field is where it is left out.
 */
export function plainRows<T>(kind: PlainKind, own: TProperties = {}): TArray<TUnsafe<T>> {
  const named = kind.unnumbered ? {} : { id: id(), ...(kind.unversioned ? {} : { version: version() }) };
  const known = Object.entries(kind.fields).filter(([field]) => !kind.beside?.includes(field));
  const fields = fileFieldsOf<T>(Object.fromEntries(known) as unknown as FieldsOf<T>);
  return rows(Type.Unsafe<T>(record({ ...named, ...(fields as unknown as TProperties), ...own })));
}
