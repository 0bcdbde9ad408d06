import { listRoutes } from '#contract/api/lists.ts';
import type { PostShown, ToPost } from '#contract/lists.ts';
import type { LetFallBody } from '#contract/posting-requests.ts';
import type { ListBody } from '#contract/records/plain.ts';
import type { WindowQuery } from '#contract/windows.ts';
import { api, changes, reads, readsAll } from '../api.ts';

interface Posted {
  list: string;
  effective: string;
  reason: string;
  lines: {
    item: string;
    pack: string;
    before: string | null;
    after: string;
    release?: boolean;
    fall?: boolean;
    handSet: { reason: string; lastDay: string | null } | null;
  }[];
}

export interface DaysAsked {
  list: string;
  from: string;
  to: string;
  shows: string;
  find: string;
  at: number;
}

export const listsApi = api.injectEndpoints({
  endpoints: (b) => ({
    listAudience: reads(b, listRoutes.audience, ({ id, body }: { id: string; body: ListBody }) => ({
      params: { id },
      body,
    })),
    listPrices: reads(b, listRoutes.prices, ({ list, query }: { list: string; query: WindowQuery }) => ({
      params: { id: list },
      query,
    })),
    toPost: reads(b, listRoutes.toPost, ({ list, day, ...body }: ToPost & { list: string; day: string | null }) => ({
      params: { id: list },
      query: { day },
      body,
    })),
    listRows: reads(
      b,
      listRoutes.rows,
      ({ list, day, skus }: { list: string; day: string | null; skus: readonly string[] }) => ({
        params: { id: list },
        query: { day },
        body: { skus },
      }),
    ),
    postShown: changes(
      b,
      listRoutes.postShown,
      ({ list, day, ...body }: PostShown & { list: string; day: string | null }) => ({
        params: { id: list },
        query: { day },
        body,
      }),
    ),
    buildUp: reads(
      b,
      listRoutes.buildUp,
      ({ list, item, pack, day }: { list: string; item: string; pack: string; day: string | null }) => ({
        params: { id: list, item, pack },
        query: { day },
      }),
    ),
    compareDays: reads(b, listRoutes.days, ({ list, ...query }: DaysAsked) => ({
      params: { id: list },
      query: { ...query, at: String(query.at) },
    })),
    falls: readsAll(b, listRoutes.falls),
    letFall: changes(b, listRoutes.letFall, (body: LetFallBody) => ({ body })),
    post: changes(b, listRoutes.post, ({ list, ...body }: Posted) => ({ params: { id: list }, body })),
  }),
});
