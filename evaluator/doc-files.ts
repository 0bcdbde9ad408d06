import { fileURLToPath } from 'node:url';

/** The example workspaces of the documentation, each with its questions and answers. */
export const EXAMPLES = ['counter', 'regions', 'rigging-quote'] as const;

export const docs = (path: string): string => fileURLToPath(new URL(`../docs/${path}`, import.meta.url));
