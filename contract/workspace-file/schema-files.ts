import { answersPage } from './answers-page.ts';
import { answersSchema } from './answers-schema.ts';
import { questionsSchema } from './questions-schema.ts';
import { workspaceSchema } from './schema.ts';

/** The JSON Schemas (draft 2020-12) that docs/schema holds, made from the code. */
export const SCHEMA_FILES: Readonly<Record<string, unknown>> = {
  'workspace.schema.json': { $schema: 'https://json-schema.org/draft/2020-12/schema', ...workspaceSchema },
  'questions.schema.json': { $schema: 'https://json-schema.org/draft/2020-12/schema', ...questionsSchema },
  'answers.schema.json': { $schema: 'https://json-schema.org/draft/2020-12/schema', ...answersSchema },
};

/** Pages of the documentation that are made from the code. */
export const DOC_PAGES: Readonly<Record<string, () => string>> = { 'answers.md': answersPage };

export const schemaText = (schema: unknown): string => `${JSON.stringify(schema, null, 1)}\n`;
