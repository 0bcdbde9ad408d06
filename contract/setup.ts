import { object } from 'yup';
import { text } from './fields.ts';

/** A copy of a group under another name, with its reductions, breaks, floors and the lists that are meant for it. */
export const copyGroupBody = object({ name: text().required().max(120) }).noUnknown();

/** Any record of a register as it travels. */
export type Recorded<T> = T & { id: string; version: number };
