import type { AnyObjectSchema } from 'yup';
import { RIGHT_NAMES } from '../people.ts';
import { PROBLEMS } from '../problems.ts';
import type { Declared } from './declare.ts';
import { type JsonSchema, jsonSchemaOf } from './json-schema.ts';

const ref = (name: string) => ({ $ref: `#/components/schemas/${name}` });

/** What is refused, by status. */
function refusals(): Record<string, JsonSchema> {
  const byStatus = new Map<number, string[]>();
  for (const [code, { status }] of Object.entries(PROBLEMS))
    byStatus.set(status, [...(byStatus.get(status) ?? []), code]);
  return Object.fromEntries(
    [...byStatus].map(([status, codes]) => [
      String(status),
      {
        description: `Refused: ${codes.join(', ')}${status === 422 ? ', or a reason of the pricing' : ''}`,
        content: { 'application/json': { schema: ref('Problem') } },
      },
    ]),
  );
}

const STATUSES = Object.keys(refusals());

const PROBLEM: JsonSchema = {
  type: 'object',
  required: ['code', 'message', 'params'],
  properties: {
    code: { type: 'string', description: 'what is refused; stays the same from release to release' },
    message: { type: 'string', description: 'the same as a sentence, ready to be read' },
    params: { type: 'object', additionalProperties: { type: 'string' } },
    faults: {
      type: 'array',
      description: 'which fields need another look',
      items: {
        type: 'object',
        required: ['path', 'message'],
        properties: { path: { type: 'string' }, message: { type: 'string' } },
      },
    },
    current: { description: 'the version in store, where somebody was faster' },
  },
};

function operation(r: Declared): JsonSchema {
  const params = [...r.path.matchAll(/:(\w+)/g)].map(([, name]) => ({
    name,
    in: 'path',
    required: true,
    schema: { type: 'string' },
  }));
  const query = Object.entries(r.query ?? {}).map(([name, description]) => ({
    name,
    in: 'query',
    description,
    schema: { type: 'string' },
  }));
  const body =
    r.body === 'bytes'
      ? { 'application/octet-stream': { schema: {} } }
      : r.body && { 'application/json': { schema: jsonSchemaOf(r.body as AnyObjectSchema) } };
  const answer =
    typeof r.answer === 'string'
      ? { 'application/json': { schema: ref(r.answer) } }
      : { [r.answer.bytes]: { schema: {} } };
  return {
    operationId: `${r.method}${r.path.replaceAll(/[^A-Za-z]+(\w)/g, (_, c: string) => c.toUpperCase())}`,
    summary: r.does,
    description: `Needs the right to ${RIGHT_NAMES[r.right]}.${r.inPerson ? ' Not with an access key: only by somebody who is signed in.' : ''}`,
    tags: [r.path.split('/')[1]],
    'x-changes': r.changes ?? [],
    ...(params.length + query.length > 0 ? { parameters: [...params, ...query] } : {}),
    ...(body ? { requestBody: { required: true, content: body } } : {}),
    responses: {
      '200': { description: 'Done', content: answer },
      ...Object.fromEntries(STATUSES.map((s) => [s, { $ref: `#/components/responses/${s}` }])),
    },
  };
}

/** The description of the API (OpenAPI 3.1) from what is declared; `answers` are the JSON Schemas of the answers by name. */
export function openApi(declared: readonly Declared[], answers: Readonly<Record<string, unknown>>): JsonSchema {
  const paths: Record<string, Record<string, JsonSchema>> = {};
  for (const r of declared) {
    const path = r.path.replaceAll(/:(\w+)/g, '{$1}');
    paths[path] = { ...paths[path], [r.method]: operation(r) };
  }
  return {
    openapi: '3.1.0',
    info: {
      title: 'Hard Ledger',
      version: '1',
      description:
        'Everything the screens do can be asked for here. Amounts and quantities are exact decimals as text; days are YYYY-MM-DD. docs/api.md has examples.',
    },
    servers: [{ url: '/api' }],
    security: [{ accessKey: [] }],
    paths,
    components: {
      securitySchemes: {
        accessKey: {
          type: 'http',
          scheme: 'bearer',
          description: 'An access key, made under "Password, keys and sessions"',
        },
      },
      responses: refusals(),
      schemas: { Problem: PROBLEM, ...answers },
    },
  };
}
