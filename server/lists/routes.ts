import type { InferType } from 'yup';
import type { postBody } from '#contract/lists.ts';
import type { LetFallBody } from '#contract/posting-requests.ts';
import type { Context } from '../platform/context.ts';
import { DAY_SHOWS } from '#contract/compare-days.ts';
import { refused } from '../platform/refused.ts';
import { catalogueOut } from '../ubl/documents.ts';
import { lastEntryAbout, revisionText, revisionsOf } from '../ledger/audit.ts';
import { postLong } from '../ledger/long-posting.ts';
import type { PricesOrder } from '../ledger/prices-order.ts';
import { route } from '../platform/http/route.ts';
import { listRoutes as declared } from '#contract/api/lists.ts';
import { recordId } from '../setup/one-record.ts';
import { askedDay, stateAsked, stateOfItems, today } from '../workspace/asked-day.ts';
import { workspaceOn } from '../workspace/state.ts';
import { type WholeList, audienceOf } from './audience.ts';
import { RIGHT_NAMES } from '#contract/people.ts';
import { buildUpOf } from './build-up.ts';
import { listRowsOf, listWindow } from './list-window.ts';
import { shownPrices, wouldPost } from './would-post.ts';
import type { SignedIn } from '../platform/http/signed-in.ts';

type PostBody = InferType<typeof postBody>;

/** Who posts what is computed has seen it. */
function seesComputed(person: SignedIn): void {
  if (!person.rights.has('see_cost')) throw refused('right_missing', { right: RIGHT_NAMES.see_cost });
}

const posted = async (context: Context, person: number, order: PricesOrder) =>
  postLong(
    context,
    { of: 'order', order, person, today: await today(context) },
    order.lists.reduce((n, l) => n + l.lines.length, 0),
  );

const onOneList = async (context: Context, person: SignedIn, list: number, { lines, ...head }: PostBody) =>
  posted(context, person.id, { ...head, lists: [{ list, lines }] });

async function letFall(context: Context, person: number, { effective, reason, prices }: LetFallBody) {
  const lists = [...new Set(prices.map((p) => p.list))].map((of) => ({
    list: recordId('The price list', of),
    lines: prices
      .filter((p) => p.list === of)
      .map(({ item, pack, before, after }) => ({
        item,
        pack,
        before,
        after,
        release: false,
        fall: true,
        handSet: null,
      })),
  }));
  return posted(context, person, { effective, lastDay: null, reason, lists });
}

export const listRoutes = [
  route(declared.prices, async ({ context, person, params, query }) =>
    listWindow(context, params.id, query, person.rights.has('see_cost')),
  ),
  route(declared.rows, async ({ context, person, params, query, body }) =>
    listRowsOf(context, params.id, query, body.skus, person.rights.has('see_cost')),
  ),
  route(declared.toPost, async ({ context, person, params, query, body }) => {
    seesComputed(person);
    return wouldPost(context, params.id, query, body);
  }),
  route(declared.postShown, async ({ context, person, params, query, body }) => {
    seesComputed(person);
    const shown = await shownPrices(context, params.id, query, body);
    return postLong(
      context,
      { of: 'shown', shown, person: person.id, today: await today(context) },
      shown.packs.length,
    );
  }),
  route(declared.buildUp, async ({ context, person, params, query }) =>
    buildUpOf(
      context.db,
      await stateOfItems(context, await askedDay(context, query), [params['item']!]),
      params['id']!,
      params['item']!,
      params['pack']!,
      person.rights.has('see_cost'),
    ),
  ),
  route(declared.asCatalogue, async ({ context, params, query, response }) => {
    const { name, xml } = await catalogueOut(context.db, await stateAsked(context, query), params.id);
    response.attachment(name).type('application/xml').send(xml);
    return undefined;
  }),
  route(declared.days, async ({ context, params, query, response }) => {
    const id = String(recordId('The price list', params.id));
    const day = async (name: 'from' | 'to') => askedDay(context, { day: query[name] ?? '' }, name);
    const [from, to] = [await day('from'), await day('to')];
    const shows = DAY_SHOWS.find((s) => s === (query['shows'] ?? 'all'));
    const faults = [{ path: 'shows', message: `must be one of ${DAY_SHOWS.join(', ')}` }];
    if (!shows) throw refused('fields_wrong', {}, { faults });
    const at = /^\d{1,9}$/.test(query['at'] ?? '') ? Number(query['at']) : 0;
    const state = revisionText(await revisionsOf(context.db));
    response.type('json').send(
      await context.costs.days({
        list: id,
        from,
        to,
        now: context.now(),
        state,
        shows,
        find: query['find'] ?? '',
        at,
      }),
    );
    return undefined;
  }),
  route(declared.falls, async ({ context }) =>
    context.costs.falls(
      await today(context),
      // how much is sold hangs on quotes too
      `${revisionText(await revisionsOf(context.db))}/${await lastEntryAbout(context.db, 'quotes')}`,
    ),
  ),
  route(declared.letFall, async ({ context, person, body }) => {
    seesComputed(person);
    return letFall(context, person.id, body);
  }),
  route<typeof declared.audience, WholeList>(declared.audience, async ({ context, params, body }) =>
    audienceOf(await workspaceOn(context.db, await today(context)), params['id']!, body),
  ),
  route(declared.post, async ({ context, person, params, body }) =>
    onOneList(context, person, recordId('The price list', params['id']), body),
  ),
];
