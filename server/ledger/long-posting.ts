import { eq } from 'drizzle-orm';
import type { Posted } from '#contract/posting-requests.ts';
import { orderOfShown } from '../lists/shown-order.ts';
import type { Context } from '../platform/context.ts';
import type { Db } from '../platform/database.ts';
import { postingRequests } from '../second-person/tables.ts';
import { stateOn } from '../workspace/asked-day.ts';
import { postPrices } from './post-prices.ts';
import type { PostingAsked } from './asked-posting.ts';

/** From so many prices on they are posted beside the server's own thread. */
const LONG = 1_000;

/** Posts prices of lists, of how many there are at most; beside the server's own thread where they are many. */
export const postLong = (
  context: Pick<Context, 'db' | 'beside'>,
  asked: PostingAsked,
  prices: number,
): Promise<Posted> => (prices < LONG ? postAsked(context.db, asked) : context.beside.post(asked));

/** Posts what was asked for, on the spot. */
export async function postAsked(db: Db, asked: PostingAsked): Promise<Posted> {
  const { today, now } = asked;
  const here = { db, now: () => now };
  if (asked.of === 'request') {
    const { agreed } = asked;
    const [request] = await db
      .select({ prices: postingRequests.prices, askedBy: postingRequests.askedBy })
      .from(postingRequests)
      .where(eq(postingRequests.id, agreed.request));
    return postPrices(here, request!.askedBy, request!.prices!, today, agreed);
  }
  const order =
    asked.of === 'order' ? asked.order : await orderOfShown(await stateOn(here, asked.shown.day), asked.shown);
  return postPrices(here, asked.person, order, today);
}
