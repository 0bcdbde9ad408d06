import type { InferType } from 'yup';
import { postBody } from '#contract/lists.ts';
import { MORE } from '#contract/records/more.ts';
import { schemaOf } from '#contract/records/schema.ts';
import { listBody } from '#contract/setup.ts';
import { postPrices } from '../ledger/post-prices.ts';
import { route } from '../platform/http/route.ts';
import { recordId } from '../setup/register.ts';
import { askedDay, today } from '../workspace/asked-day.ts';
import { workspaceOn } from '../workspace/load-workspace.ts';
import { type WholeList, audienceOf } from './audience.ts';
import { buildUpOf, listPrices } from './list-prices.ts';

const wholeList = listBody.concat(schemaOf(MORE.lists.fields));

export const listRoutes = [
  route({
    method: 'get',
    path: '/lists/:id/prices',
    right: 'read',
    handle: async ({ context, person, params, query }) =>
      listPrices(
        await workspaceOn(context.db, await askedDay(context, query)),
        params['id']!,
        person.rights.has('see_cost'),
      ),
  }),
  route({
    method: 'get',
    path: '/lists/:id/build-up/:item/:pack',
    right: 'read',
    handle: async ({ context, person, params, query }) =>
      buildUpOf(
        context.db,
        await workspaceOn(context.db, await askedDay(context, query)),
        params['id']!,
        params['item']!,
        params['pack']!,
        person.rights.has('see_cost'),
      ),
  }),
  route<WholeList>({
    method: 'post',
    path: '/lists/:id/audience',
    right: 'edit_rules',
    body: wholeList,
    handle: async ({ context, params, body }) =>
      audienceOf(await workspaceOn(context.db, await today(context)), params['id']!, body),
  }),
  route<InferType<typeof postBody>>({
    method: 'post',
    path: '/lists/:id/postings',
    right: 'post',
    body: postBody,
    mostValues: 2_500_000,
    handle: async ({ context, person, params, body }) =>
      postPrices(context, person, recordId('The price list', params['id']), body, await today(context)),
  }),
];
