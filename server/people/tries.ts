import { createHash } from 'node:crypto';
import { isIPv6 } from 'node:net';
import { and, count, eq, gt, lt, sql } from 'drizzle-orm';
import type { Context } from '../platform/context.ts';
import { refused } from '../platform/refused.ts';
import { session, signInTries } from './tables.ts';

/** How long a wrong try counts, in minutes. */
const MINUTES = 15;
/** An address may try so many times as much over all accounts as for one of them. */
const ADDRESS_FACTOR = 10;

/** Whom a wrong try is counted against: one IPv4 address, or the /64 that one IPv6 subscriber has. */
export function networkOf(address: string): string {
  const plain = address.replace(/^::ffff:(?=\d+\.)/i, '');
  if (!isIPv6(plain)) return plain;
  const [head = '', tail] = plain.split('%')[0]!.split('::');
  const left = head === '' ? [] : head.split(':');
  const right = tail === undefined || tail === '' ? [] : tail.split(':');
  const groups =
    tail === undefined ? left : [...left, ...Array<string>(8 - left.length - right.length).fill('0'), ...right];
  return `${groups
    .slice(0, 4)
    .map((g) => g.toLowerCase().replace(/^0+(?=.)/, ''))
    .join(':')}::/64`;
}

/**
 * Counts a try before the password is looked at, so that tries sent at once cannot slip past each other. An account is
 * limited per address, an address over all accounts: guessing from one place shuts nobody out elsewhere.
 * Throws `too_many_tries`; a refused try does not prolong the wait.
 */
export async function beginTry(context: Context, name: string, address: string): Promise<{ right(): Promise<void> }> {
  const at = context.now();
  const since = new Date(at.getTime() - MINUTES * 60_000);
  // a name that was typed may be a password typed in the wrong field: it is not kept
  const account = createHash('sha256').update(name).digest('base64url');
  const network = networkOf(address);
  await context.db.delete(signInTries).where(lt(signInTries.at, since));
  await context.db.delete(session).where(lt(session.expire, sql`localtimestamp`));
  const [made] = await context.db
    .insert(signInTries)
    .values({ at, account, address: network })
    .returning({ id: signInTries.id });
  const [counted] = await context.db
    .select({
      place: count(),
      here: count(sql`case when ${eq(signInTries.account, account)} then 1 end`),
    })
    .from(signInTries)
    .where(and(eq(signInTries.address, network), gt(signInTries.at, since)));
  const { place, here } = counted!;
  if (here > context.signInTries || place > context.signInTries * ADDRESS_FACTOR) {
    await context.db.delete(signInTries).where(eq(signInTries.id, made!.id));
    throw refused('too_many_tries', { minutes: String(MINUTES) });
  }
  return {
    // whoever knows the password has not been guessing: their slips count no more
    right: async () =>
      void (await context.db
        .delete(signInTries)
        .where(and(eq(signInTries.account, account), eq(signInTries.address, network)))),
  };
}
