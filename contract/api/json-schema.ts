import type {
  AnySchema,
  SchemaDescription,
  SchemaFieldDescription,
  SchemaInnerTypeDescription,
  SchemaObjectDescription,
} from 'yup';

/** JSON Schema, draft 2020-12, as far as bodies need it. */
export type JsonSchema = Readonly<Record<string, unknown>>;

const LIMITS: Readonly<Record<string, readonly [string, string]>> = {
  string: ['minLength', 'maxLength'],
  array: ['minItems', 'maxItems'],
};

/** What one test of a schema asks, in words of JSON Schema. */
function bound(type: string, { name, params = {} }: { name?: string; params?: Record<string, unknown> }): JsonSchema {
  const [least, most] = LIMITS[type] ?? ['minimum', 'maximum'];
  switch (name) {
    case 'matches': {
      const { regex } = params;
      return regex instanceof RegExp ? { allOf: [{ pattern: regex.source }] } : {};
    }
    case 'min':
      return typeof params['min'] === 'number' ? { [least]: params['min'] } : {};
    case 'max':
      return typeof params['max'] === 'number' ? { [most]: params['max'] } : {};
    case 'integer':
      return { type: 'integer' };
    case 'day':
      return { format: 'date' };
    default:
      return {};
  }
}

function bounds(d: SchemaDescription): JsonSchema {
  const all = d.tests.map((t) => bound(d.type, t));
  const patterns = all.flatMap((b) => (b['allOf'] as JsonSchema[] | undefined) ?? []);
  const joined = Object.assign({}, ...all.filter((b) => !('allOf' in b))) as JsonSchema;
  // an empty text is "not given" where a field may be left out
  return patterns.length === 1
    ? { ...joined, ...patterns[0] }
    : patterns.length > 1
      ? { ...joined, allOf: patterns }
      : joined;
}

/** A field may be missing where it has a value of its own to fall back on, or may be empty. */
const mayMiss = (d: SchemaFieldDescription) =>
  !('optional' in d) || d.optional || d.nullable || ('default' in d && d.default !== undefined);

function shape(field: SchemaFieldDescription): JsonSchema {
  if (!('nullable' in field)) return {};
  const d = field as SchemaDescription;
  const options = d.oneOf.filter((v) => v !== null);
  const plain: JsonSchema = {
    ...(d.type === 'mixed' ? {} : { type: d.type }),
    ...(options.length > 0 ? { enum: options } : {}),
    ...bounds(d),
    ...inside(d),
  };
  if (!d.nullable) return plain;
  return Object.keys(plain).length === 0 ? {} : { anyOf: [plain, { type: 'null' }] };
}

function inside(d: SchemaDescription): JsonSchema {
  if (d.type === 'array') {
    const { innerType } = d as SchemaInnerTypeDescription;
    return innerType && !Array.isArray(innerType) ? { items: shape(innerType) } : {};
  }
  if (d.type !== 'object') return {};
  const { fields } = d as SchemaObjectDescription;
  const required = Object.entries(fields).flatMap(([name, f]) => (mayMiss(f) ? [] : [name]));
  return {
    properties: Object.fromEntries(Object.entries(fields).map(([name, f]) => [name, shape(f)])),
    ...(required.length > 0 ? { required } : {}),
    additionalProperties: false,
  };
}

/** The JSON Schema of what a body's schema takes. Rules that join several fields are not in it: the server tells them. */
export const jsonSchemaOf = (schema: AnySchema): JsonSchema => shape(schema.describe());
