import type { Window } from '#contract/windows.ts';
import { useMoment } from '../frame/moments.ts';

/** Says that the order is of a moment before the last change, until it is worked out again. */
export function AsOf({ window: { stale, at } }: { window: Pick<Window<unknown>, 'stale' | 'at'> }) {
  const moment = useMoment();
  return stale ? (
    <span
      role="status"
      className="whitespace-nowrap text-warn"
      title={`Figures are of now. Which rows fit, their order and the counts are of ${moment(at)}, and are being worked out again.`}
    >
      order of {moment(at).split(' ')[1]} …
    </span>
  ) : null;
}
