import { type Declared, get } from '#contract/api/declare.ts';
import { openApi } from '#contract/api/openapi.ts';
import answers from '#contract/api/answers.schema.json' with { type: 'json' };
import { type Route, route } from './route.ts';

const declared = get(
  '/openapi.json',
  'This description of the API (OpenAPI 3.1)',
  { bytes: 'application/json' },
  {
    right: 'read',
  },
);

/** The description of every address that is asked, this one included. */
export const description = (asked: readonly Declared[]) =>
  openApi(asked.some((r) => r.path === declared.path) ? asked : [...asked, declared], answers);

/** The address where the description of the others is read. */
export function describes(asked: readonly Route[]): Route {
  let text: string | null = null;
  return route(declared, ({ response }) => {
    response.type('application/json').send((text ??= JSON.stringify(description(asked))));
    return Promise.resolve(undefined);
  });
}
