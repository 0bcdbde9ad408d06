import { Ajv, type Options, type ValidateFunction } from 'ajv';
import { isDay } from '#core/numbers/day.ts';
import { questionsSchema } from './questions-schema.ts';
import { workspaceSchema } from './schema.ts';

// Compiling a schema takes longer than reading a small file: it is done when it is first asked for, and in the compiled
// evaluator beforehand (bin/compile-price.mjs puts a module of the same exports in this one's place).

export const AJV_OPTIONS: Options = {
  allErrors: true,
  verbose: true,
  useDefaults: true,
  discriminator: true,
  allowUnionTypes: true,
  strict: false,
};

/** What the schemas know besides the standard's formats. */
export const FORMATS = { day: { type: 'string', validate: isDay } } as const;

function once(schema: object): () => ValidateFunction {
  let made: ValidateFunction | null = null;
  return () => {
    if (made) return made;
    const ajv = new Ajv(AJV_OPTIONS);
    for (const [name, format] of Object.entries(FORMATS)) ajv.addFormat(name, format);
    return (made = ajv.compile(schema));
  };
}

export const workspaceShape = once(workspaceSchema);
export const questionsShape = once(questionsSchema);
