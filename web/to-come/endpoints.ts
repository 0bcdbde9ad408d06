import { toComeRoutes } from '#contract/api/to-come.ts';
import type { planBody } from '#contract/to-come.ts';
import type { InferType } from 'yup';
import { api, changes, readsAll } from '../api.ts';

export const toComeApi = api.injectEndpoints({
  endpoints: (b) => ({
    changesToCome: readsAll(b, toComeRoutes.all),
    planChange: changes(b, toComeRoutes.plan, (body: InferType<typeof planBody>) => ({ body })),
    dropChange: changes(b, toComeRoutes.drop, ({ id, version }: { id: string; version: number }) => ({
      params: { id },
      body: { version },
    })),
  }),
});
