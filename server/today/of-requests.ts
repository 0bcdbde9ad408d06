import { placeOf } from '#contract/places.ts';
import type { Waiting } from '#contract/today.ts';
import type { Context } from '../platform/context.ts';
import { requests } from '../second-person/decide.ts';
import type { SignedIn } from '../platform/http/signed-in.ts';

/** For so many days whoever asked is told that it was refused, in milliseconds. */
const TOLD_MS = 2 * 86_400_000;

/** Postings that wait for a second person, and what became of one's own. */
export async function ofRequests(
  { db, now }: Pick<Context, 'db' | 'now'>,
  person: SignedIn,
  add: (kind: Waiting['kind'], count: number, text: string, to: string) => void,
): Promise<void> {
  if (!person.rights.has('post')) return;
  for (const r of await requests(db, person)) {
    const to = placeOf('posting-requests', r.id);
    const prices = `${r.prices} ${r.prices === 1 ? 'price' : 'prices'}`;
    if (r.state === 'waiting')
      add(
        'posting_to_agree',
        1,
        r.own
          ? `Your posting of ${prices} waits for a second person: ${r.reason}`
          : `${r.by} asks you to agree to ${prices}: ${r.reason}`,
        to,
      );
    if (r.state === 'refused' && r.own && now().getTime() - Date.parse(r.decided!.at) < TOLD_MS)
      add('posting_refused', 1, `${r.decided!.by} refused your posting of ${prices}: ${r.decided!.why}`, to);
  }
}
