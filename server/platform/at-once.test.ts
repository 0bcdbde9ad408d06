import fc from 'fast-check';
import { expect, it } from 'vitest';
import { atOnce } from './at-once.ts';

/** A question whose answers come when they are let. */
function slow() {
  const asked: string[] = [];
  const let_: ((answer: number | Error) => void)[] = [];
  const ask = (about: string) => {
    asked.push(about);
    return new Promise<number>((done, fail) => let_.push((a) => (a instanceof Error ? fail(a) : done(a))));
  };
  const soon = () => new Promise((done) => setImmediate(done));
  return { asked, ask, answer: async (n: number, a: number | Error) => (await soon(), let_[n]!(a), await soon()) };
}

it('what many ask at the same moment is asked once, and other questions go on beside it', async () => {
  const { asked, ask, answer } = slow();
  const shared = atOnce(ask);
  const all = [shared('revisions'), shared('revisions'), shared('another'), shared('revisions')];
  await answer(1, 7);
  await answer(0, 3);
  expect(await Promise.all(all)).toEqual([3, 3, 7, 3]);
  expect(asked).toEqual(['revisions', 'another']);
});

it('one question that fails does not fail those after it', async () => {
  const { asked, ask, answer } = slow();
  const shared = atOnce(ask);
  const first = shared('revisions').catch((e: Error) => e.message);
  await answer(0, new Error('the database is away'));
  const second = shared('revisions');
  await answer(1, 4);
  expect([await first, await second]).toEqual(['the database is away', 4]);
  expect(asked).toHaveLength(2);
});

it('nobody is answered with what was true before they asked', async () => {
  const moves = fc.array(fc.constantFrom('write', 'ask', 'answer'), { maxLength: 40 });
  await fc.assert(
    fc.asyncProperty(moves, async (all) => {
      let written = 0;
      const open: (() => void)[] = [];
      const shared = atOnce(() => {
        // a question sees what is written when it is sent
        const seen = written;
        return new Promise<number>((done) => open.push(() => done(seen)));
      });
      const soon = () => new Promise((done) => setImmediate(done));
      const asked: { since: number; got: Promise<number> }[] = [];
      for (const move of all) {
        if (move === 'write') written++;
        else if (move === 'ask') asked.push({ since: written, got: shared(null) });
        else open.shift()?.();
        await soon();
      }
      const closing = Promise.all(asked.map(async ({ since, got }) => expect(await got).toBeGreaterThanOrEqual(since)));
      for (let left = 0; left < 3; left++) {
        open.splice(0).forEach((done) => done());
        await soon();
      }
      await closing;
    }),
  );
});
