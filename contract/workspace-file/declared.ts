import { type TArray, type TOptional, type TProperties, type TSchema, type TUnsafe, Type } from '@sinclair/typebox';
import { type Field, type Fields, type FieldsOf, TIES, TIE_FIELDS } from '../records/declare.ts';
import type { Scope, Tie } from '#core/items/scope.ts';
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

/** A field that holds a single value, as it stands in the file where it has one. */
function single(f: Field): TSchema {
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
      return scopeOf(f.ties ?? TIES);
    case 'part':
      return record(fileFields(f.fields), words(f));
    default:
      throw new Error(`a ${f.type} is written in the file by hand: ${f.title}`);
  }
}

/** What a rule is tied to. */
const scopeOf = (ties: readonly Tie[] = TIES) =>
  record(tiesOf(ties), 'what the rule is tied to; an empty object: everything');
const tiesOf = (ties: readonly Tie[]): TProperties =>
  Object.fromEntries(ties.map((tie) => [tie, maybe(single(TIE_FIELDS[tie]))]));
type ScopeFields = { [T in Tie]: TOptional<TUnsafe<Scope[T]>> };
export const scopeFields = () => tiesOf(TIES) as unknown as ScopeFields;
export const scope = () => record(scopeFields(), 'what the rule is tied to; an empty object: everything');

function fileField(f: Field): TSchema {
  const list = (of: TSchema) => optional(Type.Array(of, { description: `a list: ${words(f)}` }));
  switch (f.type) {
    case 'yes':
      return f.needed ? yesNo(words(f)) : optional(yesNo(words(f), f.preset));
    case 'texts':
      return list(name());
    case 'countries':
      return rows(country(), 'a list of countries');
    case 'many':
      return optional(rows(id(), `a list: ${words(f)}`));
    case 'scopes':
      return optional(rows(scopeOf(), `a list: ${words(f)}`));
    case 'rows': {
      const of = record({ ...(f.numbered ? { id: id() } : {}), ...fileFields(f.fields) });
      return f.least ? Type.Array(of, { minItems: f.least, description: `a list of at least one ${f.one}` }) : list(of);
    }
    case 'choice':
      if (f.preset !== undefined) return optional(oneOf(Object.keys(f.options), f.preset));
      break;
    default:
  }
  // what is only asked for in some cases may be missing in the others
  return f.optional || f.when ? maybe(single(f)) : single(f);
}

/** The fields of a declared record as the workspace file has them. */
export const fileFields = (fields: Fields): TProperties =>
  Object.fromEntries(Object.entries(fields).map(([field, f]) => [field, fileField(f)]));

type FileFieldsOf<T> = {
  [K in keyof T]-?: undefined extends T[K] ? TOptional<TUnsafe<Exclude<T[K], undefined>>> : TUnsafe<T[K]>;
};
/** The same for members that a type of the core may lack: what the file leaves out stays out. */
export const fileFieldsOf = <T>(fields: FieldsOf<T>): FileFieldsOf<T> =>
  Object.fromEntries(
    Object.entries(fileFields(fields as Fields)).map(([name, { default: _, ...schema }]) => [name, schema]),
  ) as unknown as FileFieldsOf<T>;

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
