import { foundRoutes as declared } from '#contract/api/records.ts';
import { MOST_FOUND, type NamedRecords } from '#contract/records/found.ts';
import { RIGHT_NAMES } from '#contract/people.ts';
import { route } from '../platform/http/route.ts';
import { refused } from '../platform/refused.ts';
import { type Findable, findable, foundRecords, namedRecords } from './find.ts';
import type { SignedIn } from '../platform/http/signed-in.ts';

/** The register that is asked about, where the person may read it. */
function asked(person: SignedIn, register: string): Findable {
  const found = findable(register);
  if (!found) throw refused('not_found', { what: 'A register', id: register.slice(0, 40) });
  if (!person.rights.has(found.right)) throw refused('right_missing', { right: RIGHT_NAMES[found.right] });
  return found;
}

export const foundRoutes = [
  route(declared.found, ({ context, person, query }) =>
    foundRecords(context.db, asked(person, query['register'] ?? ''), (query['text'] ?? '').slice(0, 80), MOST_FOUND),
  ),
  route(declared.named, async ({ context, person, body }) => {
    const out: NamedRecords[] = [];
    for (const { register, ids } of body.of) {
      const of = findable(register);
      if (of && person.rights.has(of.right)) out.push({ register, records: await namedRecords(context.db, of, ids) });
    }
    return out;
  }),
];
