import { readFile, writeFile } from 'node:fs/promises';
import { createGenerator } from 'ts-json-schema-generator';
import { format } from 'prettier';

export const ANSWERS_FILE = new URL('./answers.schema.json', import.meta.url);

/** The JSON Schemas of every answer by its name, made from the types in answers.ts. */
export function answerSchemas(): Record<string, unknown> {
  const made = createGenerator({
    path: new URL('./answers.ts', import.meta.url).pathname,
    tsconfig: new URL('../../tsconfig.json', import.meta.url).pathname,
    type: 'Answers',
    skipTypeCheck: true,
    encodeRefs: false,
    additionalProperties: false,
  }).createSchema('Answers');
  const { Answers: answers, ...others } = made.definitions as unknown as Record<string, { properties: object }>;
  const text = JSON.stringify({ ...answers!.properties, ...others });
  return JSON.parse(text.replaceAll('#/definitions/', '#/components/schemas/')) as Record<string, unknown>;
}

export const schemaText = async (schemas: unknown): Promise<string> =>
  format(JSON.stringify(schemas), { parser: 'json', printWidth: 120 });

if (import.meta.url === `file://${process.argv[1]}`) await writeFile(ANSWERS_FILE, await schemaText(answerSchemas()));
export const keptAnswers = (): Promise<string> => readFile(ANSWERS_FILE, 'utf8');
