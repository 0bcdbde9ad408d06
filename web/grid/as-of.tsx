import type { Window } from '#contract/windows.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { showMoment } from '../kit/number-form.ts';

/** Says that the order is of a moment before the last change, until it is worked out again. */
export function AsOf({ window: { stale, at } }: { window: Pick<Window<unknown>, 'stale' | 'at'> }) {
  const form = useNumberForm();
  return stale ? (
    <span
      role="status"
      className="whitespace-nowrap text-warn"
      title={`Figures are of now. Which rows fit, their order and the counts are of ${showMoment(at, form)}, and are being worked out again.`}
    >
      order of {showMoment(at, form).split(' ')[1]} …
    </span>
  ) : null;
}
