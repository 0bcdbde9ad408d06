import type { ListBody } from '#contract/records/plain.ts';
import { listsApi } from '../lists/endpoints.ts';
import { problemOf } from '../api.ts';
import { Trouble } from '../kit/controls.tsx';
import { counted } from '../kit/words.ts';

/** Before a list is activated: whom it will answer from then on, and what it has no price for. */
export function ListAudienceBeside({
  id,
  body,
  before,
}: {
  id: string;
  body: Record<string, unknown>;
  before: Record<string, unknown>;
}) {
  const activates = body['active'] === true && before['active'] !== true;
  const { id: _id, version: _version, ...list } = body;
  const { data: a, error } = listsApi.useListAudienceQuery(
    { id, body: list as unknown as ListBody },
    { skip: !activates },
  );
  if (!activates) return null;
  if (error) return <Trouble>{problemOf(error).message}</Trouble>;
  if (!a) return <p className="mt-4 text-faint">Looking whom it would answer …</p>;
  return (
    <div className="mt-4">
      <Trouble tone="warn">
        <p>
          Active, it answers {a.everyone ? 'whoever comes, ' : ''}
          {counted(a.customers, 'customer')}
          {a.customers > 0
            ? ` (${a.named.join(', ')}${a.customers > a.named.length ? `, and ${a.customers - a.named.length} more` : ''})`
            : ''}
          ; for {a.first === a.customers ? (a.customers === 1 ? 'it' : 'all of them') : a.first} it comes before every
          other list.
        </p>
        <p>
          {a.missing === 0
            ? `Each of its ${counted(a.prices, 'price')} is in force.`
            : `${a.missing} of ${counted(a.prices, 'price')} ${a.missing === 1 ? 'is' : 'are'} not in force on it: those items get no price from it.`}
        </p>
      </Trouble>
    </div>
  );
}
