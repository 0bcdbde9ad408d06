import { type AnyObjectSchema, ValidationError } from 'yup';
import { type FieldFault, faultsOf } from '#contract/fields.ts';

/** What is wrong with a body by its schema alone: the same that the server would say, and at once. */
export const heldTo =
  (schema: AnyObjectSchema) =>
  (body: object): readonly FieldFault[] => {
    // what a form does not know of goes back as it came
    const known = Object.fromEntries(Object.keys(schema.fields).map((name) => [name, Reflect.get(body, name)]));
    try {
      schema.validateSync(known, { abortEarly: false });
      return [];
    } catch (error) {
      if (error instanceof ValidationError) return faultsOf(error);
      throw error;
    }
  };
