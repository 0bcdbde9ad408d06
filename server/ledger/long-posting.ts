import { eq } from 'drizzle-orm';
import type { Posted } from '#contract/posting-requests.ts';
import { orderOfShown } from '../lists/shown-order.ts';
import type { Context } from '../platform/context.ts';
import { postingRequests } from '../second-person/tables.ts';
import { stateOn } from '../workspace/asked-day.ts';
import { postPrices } from './post-prices.ts';
import type { PostingAsked } from './asked-posting.ts';

/** From so many prices on they are posted beside the server's own thread. */
const LONG = 1_000;

/** Posts prices of lists, of how many there are at most; beside the server's own thread where they are many. */
export const postLong = (
  context: Pick<Context, 'db' | 'now' | 'beside'>,
  asked: PostingAsked,
  prices: number,
): Promise<Posted> => (prices < LONG ? postAsked(context, asked) : context.beside.post(asked));

/** Posts what was asked for, on the spot; its entries bear the moment they are written at, as all entries before and after them. */
export async function postAsked(here: Pick<Context, 'db' | 'now'>, asked: PostingAsked): Promise<Posted> {
  const { today } = asked;
  if (asked.of === 'request') {
    const { agreed } = asked;
    const [request] = await here.db
      .select({ prices: postingRequests.prices, askedBy: postingRequests.askedBy })
      .from(postingRequests)
      .where(eq(postingRequests.id, agreed.request));
    return postPrices(here, request!.askedBy, request!.prices!, today, agreed);
  }
  const order =
    asked.of === 'order' ? asked.order : await orderOfShown(await stateOn(here, asked.shown.day), asked.shown);
  return postPrices(here, asked.person, order, today);
}
