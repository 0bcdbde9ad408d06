import { setImmediate } from 'node:timers/promises';

/** So long something is worked at before others have their turn, in milliseconds. */
const TURN_MS = 10;

/** Asked again and again while something long is worked at: waits now and then, so that others have their turn. */
export function turns(): () => Promise<void> {
  let since = performance.now();
  return async () => {
    if (performance.now() - since < TURN_MS) return;
    await setImmediate();
    since = performance.now();
  };
}
