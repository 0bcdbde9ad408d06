import { Ajv2020 } from 'ajv/dist/2020.js';
import type { Declared } from '#contract/api/declare.ts';
import answers from '#contract/api/answers.schema.json' with { type: 'json' };

const ajv = new Ajv2020({ strict: false, allowUnionTypes: true });
ajv.addSchema({ $id: 'api', components: { schemas: answers } });

/** Holds an answer to its published description; throws with what differs. */
export function heldTo({ method, path, answer: name }: Declared, answer: unknown): void {
  if (typeof name !== 'string') return;
  const check = ajv.getSchema(`api#/components/schemas/${name}`);
  if (!check) throw new Error(`${method} ${path}: there is no answer "${name}"`);
  if (check(JSON.parse(JSON.stringify(answer)))) return;
  const [first] = check.errors!;
  throw new Error(
    `${method} ${path} is not as described: ${first!.instancePath} ${first!.message} ${JSON.stringify(first!.params)}`,
  );
}
