import { readFile } from 'node:fs/promises';
import { Validator } from '@seriousme/openapi-schema-validator';
import { describe, expect, it } from 'vitest';
import { answerSchemas, keptAnswers, schemaText } from '#contract/api/write-answers.ts';
import { routes } from '../../routes.ts';
import { description } from './describes.ts';

describe('the description of the API', () => {
  it('is one that programs can read (OpenAPI 3.1)', async () => {
    const checked = await new Validator().validate(
      JSON.parse(JSON.stringify(description(routes))) as Record<string, unknown>,
    );
    expect(checked.errors ?? []).toEqual([]);
    expect(checked.valid).toBe(true);
  });
  it('is kept in docs as the code has it: npm run doc-files', async () => {
    const kept = await readFile(new URL('../../../docs/schema/openapi.json', import.meta.url), 'utf8');
    expect(JSON.parse(kept)).toEqual(JSON.parse(JSON.stringify(description(routes))));
  });
  it('has answers made from their types as they are now: npm run doc-files', async () => {
    expect(await keptAnswers()).toBe(await schemaText(answerSchemas()));
  });
  it('names every address once', () => {
    const names = routes.map((r) => `${r.method} ${r.path}`);
    expect(new Set(names).size).toBe(names.length);
  });
});
