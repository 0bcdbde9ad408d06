import { setImmediate, setTimeout } from 'node:timers/promises';
import { isMainThread } from 'node:worker_threads';
import type { Pausable } from '#core/pausable.ts';

/** So long something is worked at before others have their turn, in milliseconds: an answer needs several turns. */
const TURN_MS = 5;

/** Asked again and again while something long is worked at: waits now and then, so that others have their turn. */
export type Turn = () => Promise<void>;

export function turns(): Turn {
  return every(() => setImmediate());
}

/**
 * The same for what may be long on the thread that answers: an answer asks the database several times over, and each time its
 * turn comes only after what is worked at. There others have at least half of the time.
 */
export function turnsShared(): Turn {
  return every(() => (isMainThread ? setTimeout(TURN_MS) : setImmediate()));
}

/** So long others are let go first at a time. */
const BEHIND_MS = 100;

/** The same for what nobody waits for: while there is other work (`busy`) it has a tenth of the time. */
export function turnsBehind(busy: () => boolean): Turn {
  return every(() => (busy() ? setTimeout(BEHIND_MS) : setImmediate()));
}

function every(wait: () => Promise<unknown>): Turn {
  let since = performance.now();
  return async () => {
    if (performance.now() - since < TURN_MS) return;
    await wait();
    since = performance.now();
  };
}

/** Does long work to its end, with a turn for others wherever it may be paused. */
export async function paused<T>(work: Pausable<T>, turn: Turn): Promise<T> {
  for (;;) {
    const step = work.next();
    if (step.done) return step.value;
    await turn();
  }
}
