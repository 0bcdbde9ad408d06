import { readFileSync, writeFileSync } from 'node:fs';
import { DOC_PAGES, SCHEMA_FILES, schemaText } from '#contract/workspace-file/schema-files.ts';
import { evaluateFiles } from './evaluate-files.ts';
import { EXAMPLES, docs } from './doc-files.ts';

// Makes the files that the documentation shows again: JSON Schemas, and the answers to the example questions.
for (const [name, page] of Object.entries(DOC_PAGES)) writeFileSync(docs(name), page());
for (const [name, schema] of Object.entries(SCHEMA_FILES)) writeFileSync(docs(`schema/${name}`), schemaText(schema));
for (const name of EXAMPLES) {
  const read = (part: string) => readFileSync(docs(`examples/${name}.${part}.json`), 'utf8');
  const { answers, errors } = evaluateFiles({ workspace: 'workspace', questions: 'questions' }, read, {
    buildUp: false,
  });
  if (answers === null) throw new Error(errors ?? name);
  writeFileSync(docs(`examples/${name}.answers.json`), answers);
}
