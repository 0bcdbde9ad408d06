import { TOPICS } from '#contract/api/declare.ts';
import { ownRoutes } from '#contract/api/people.ts';
import type { AccessKeyBody, OwnPasswordBody, SessionInfo } from '#contract/people.ts';
import { api, changes, readsAll } from '../api.ts';

export const peopleApi = api.injectEndpoints({
  endpoints: (b) => ({
    session: b.query<SessionInfo, void>({ query: () => '/session', providesTags: ['session'] }),
    signIn: b.mutation<unknown, { signIn: string; password: string }>({
      query: (body) => ({ url: '/session', method: 'POST', body }),
      invalidatesTags: (_, error) => (error ? [] : [...TOPICS]),
    }),
    signOut: b.mutation<unknown, void>({ query: () => ({ url: '/session', method: 'DELETE' }) }),
    changePassword: changes(b, ownRoutes.password, (body: OwnPasswordBody) => ({ body })),
    sessions: readsAll(b, ownRoutes.sessions),
    endSession: changes(b, ownRoutes.endSession, (id: string) => ({ params: { id } })),
    keys: readsAll(b, ownRoutes.keys),
    makeKey: changes(b, ownRoutes.makeKey, (body: AccessKeyBody) => ({ body })),
    endKey: changes(b, ownRoutes.endKey, (id: string) => ({ params: { id } })),
  }),
});
