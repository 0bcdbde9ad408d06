import type { AnyObjectSchema } from 'yup';
import { refused } from '../refused.ts';

// What a request may hold at most. Looked at before anything is validated: a validator that is given half a million empty
// lines writes half a million faults.

/** Values of every kind in a body; enough for the longest quote and the widest uplift table. */
export const MOST_VALUES = 60_000;
const MOST_LEVELS = 24;
const MOST_KEY = 200;
/** Characters of one text; the longest field is a note. */
const MOST_TEXT = 20_000;

const QUOTE = 34;
const BACKSLASH = 92;
const [OPEN_LIST, CLOSE_LIST, OPEN_OBJECT, CLOSE_OBJECT, COMMA] = [91, 93, 123, 125, 44];

/** Counts levels and values of JSON text as it lies there, without making anything of it. */
function measure(bytes: Uint8Array, mostValues: number): void {
  let [level, values, text] = [0, 0, false];
  for (let i = 0; i < bytes.length; i++) {
    const byte = bytes[i]!;
    if (text) {
      if (byte === BACKSLASH) i++;
      else if (byte === QUOTE) text = false;
      continue;
    }
    if (byte === QUOTE) text = true;
    else if (byte === OPEN_LIST || byte === OPEN_OBJECT) {
      if (++level > MOST_LEVELS) throw refused('too_much', { what: 'levels', limit: String(MOST_LEVELS) });
      values++;
    } else if (byte === CLOSE_LIST || byte === CLOSE_OBJECT) level--;
    else if (byte === COMMA && ++values > mostValues)
      throw refused('too_much', { what: 'values', limit: mostValues.toLocaleString('en-GB') });
  }
}

const decoder = new TextDecoder('utf-8', { fatal: true });

/** Reads a JSON body within limits. Text that no database keeps (NUL, halves of characters) and keys with a meaning of their own are refused. */
export function readJson(bytes: Buffer, mostValues: number): unknown {
  measure(bytes, mostValues);
  let body: unknown;
  try {
    body = JSON.parse(decoder.decode(bytes));
  } catch {
    throw refused('body_unreadable');
  }
  checkTexts(body, '');
  return body;
}

/** Whether a text can be kept and shown. */
export const isWellFormed = (text: string): boolean => text.isWellFormed() && !text.includes('\0');

/** Names that every object has a member of: whoever looks a field up by them finds that member. */
const SPECIAL_KEYS: ReadonlySet<string> = new Set(['prototype', ...Object.getOwnPropertyNames(Object.prototype)]);

function checkTexts(value: unknown, path: string): void {
  const fault = (message: string) => refused('fields_wrong', {}, { faults: [{ path: path.slice(0, 200), message }] });
  if (typeof value === 'string') {
    if (value.length > MOST_TEXT) throw fault(`must have at most ${MOST_TEXT.toLocaleString('en-GB')} characters`);
    if (!isWellFormed(value)) throw fault('holds characters that cannot be kept');
    return;
  }
  if (value === null || typeof value !== 'object') return;
  if (Array.isArray(value)) return value.forEach((inner, i) => checkTexts(inner, `${path}[${i}]`));
  for (const [key, inner] of Object.entries(value)) {
    if (key.length > MOST_KEY || SPECIAL_KEYS.has(key) || !isWellFormed(key))
      throw fault('has a field that is not known');
    checkTexts(inner, path === '' ? key : `${path}.${key}`);
  }
}

interface Described {
  readonly type: string;
  readonly fields?: Readonly<Record<string, Described>>;
  readonly innerType?: Described;
  readonly tests?: readonly { readonly name?: string; readonly params?: Readonly<Record<string, unknown>> }[];
}

const described = new WeakMap<AnyObjectSchema, Described>();

/** Refuses lists that are longer than the schema says, before any of their elements is looked at. */
export function checkLengths(schema: AnyObjectSchema, body: unknown): void {
  let known = described.get(schema);
  if (!known) described.set(schema, (known = schema.describe() as unknown as Described));
  lengths(known, body, '');
}

function lengths(schema: Described, value: unknown, path: string): void {
  if (schema.type === 'array' && Array.isArray(value)) {
    const most = schema.tests?.find((t) => t.name === 'max')?.params?.['max'];
    if (typeof most === 'number' && value.length > most) {
      const message = `holds ${value.length.toLocaleString('en-GB')} entries; at most ${most.toLocaleString('en-GB')} are taken`;
      throw refused('fields_wrong', {}, { faults: [{ path, message }] });
    }
    if (schema.innerType?.fields) value.forEach((inner, i) => lengths(schema.innerType!, inner, `${path}[${i}]`));
    return;
  }
  if (!schema.fields || value === null || typeof value !== 'object') return;
  for (const [name, field] of Object.entries(schema.fields))
    lengths(field, (value as Record<string, unknown>)[name], path === '' ? name : `${path}.${name}`);
}
