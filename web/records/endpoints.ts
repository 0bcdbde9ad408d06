import { foundRoutes, groupRoutes, topicOf } from '#contract/api/records.ts';
import type { LadderBody, RecipeBody } from '#contract/recipes.ts';
import type { Recorded } from '#contract/setup.ts';
import { api, changes, reads } from '../api.ts';

export const recordsApi = api.injectEndpoints({
  endpoints: (b) => ({
    recipes: b.query<Recorded<RecipeBody>[], void>({ query: () => '/recipes', providesTags: ['rules'] }),
    ladders: b.query<Recorded<LadderBody>[], void>({ query: () => '/ladders', providesTags: ['rules'] }),
    register: b.query<Recorded<Record<string, unknown>>[], string>({
      query: (name) => `/${name}`,
      providesTags: (_, __, name) => [topicOf(name)],
    }),
    record: b.mutation<Recorded<Record<string, unknown>>, { register: string; id: string | null; body: object }>({
      query: ({ register, id, body }) =>
        id === null
          ? { url: `/${register}`, method: 'POST', body }
          : { url: `/${register}/${id}`, method: 'PUT', body },
      invalidatesTags: (_, error, { register }) => (error ? [] : [topicOf(register)]),
    }),
    recordsFound: reads(b, foundRoutes.found, (query: { register: string; text: string }) => ({ query })),
    recordsNamed: reads(b, foundRoutes.named, (of: { register: string; ids: string[] }[]) => ({ body: { of } })),
    copyGroup: changes(b, groupRoutes.copy, ({ id, name }: { id: string; name: string }) => ({
      params: { id },
      body: { name },
    })),
    removeRecord: b.mutation<unknown, { register: string; id: string; version: number }>({
      query: ({ register, id, version }) => ({ url: `/${register}/${id}`, method: 'DELETE', body: { version } }),
      invalidatesTags: (_, error, { register }) => (error ? [] : [topicOf(register)]),
    }),
  }),
});
