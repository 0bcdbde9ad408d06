import { expect, it } from 'vitest';
import type { Pausable } from '#core/pausable.ts';
import { paused, turns, turnsBehind } from './turns.ts';

/** Work in steps that each last longer than a turn; `until`: of what it has done. */
function* steps(until: (done: number) => boolean): Pausable<number> {
  for (let done = 1; ; done++) {
    for (const began = performance.now(); performance.now() - began < 11;);
    if (until(done)) return done;
    yield;
  }
}

it('work nobody waits for lets what somebody waits for go first, and is done to its end after it', async () => {
  let waited = true;
  let behind = 0;
  const slow = paused(
    steps((done) => ((behind = done), !waited)),
    turnsBehind(() => waited),
  );
  await paused(
    steps((done) => done === 30),
    turns(),
  );
  expect(behind).toBeLessThan(10);
  waited = false;
  const then = behind;
  expect(await slow).toBeGreaterThan(then);
});

it('two pieces of work that somebody waits for share the time', async () => {
  let other = 0;
  let going = true;
  const beside = paused(
    steps((done) => ((other = done), !going)),
    turns(),
  );
  await paused(
    steps((done) => done === 10),
    turns(),
  );
  expect(other).toBeGreaterThan(5);
  going = false;
  await beside;
});
