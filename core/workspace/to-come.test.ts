import { describe, expect, it } from 'vitest';
import { Dice } from '../numbers/dice.ts';
import { emptyWorkspace } from './sample.ts';
import { movesBetween, withMoves } from './to-come.ts';
import type { Workspace } from './workspace.ts';

const groups = (rows: readonly (readonly [string, number])[]) =>
  rows.map(([id, rank]) => ({ id, version: 1, name: id, rank }));
const list = (id: string, rank: number, entries: readonly string[]) => ({
  ...{ id, version: 1, name: id, currency: 'EUR', taxIn: false, advertised: false, active: true, groups: [], rank },
  recipe: null,
  entries: entries.map((e) => ({ id: e, scope: {}, kind: 'price', value: '1' }) as const),
});

/** Rules of a few records, some gone and some changed at random. */
const rules = (dice: Dice): Workspace => ({
  ...emptyWorkspace(),
  groups: groups(['a', 'b', 'c', 'd'].filter(() => dice.whole(0, 2) > 0).map((id) => [id, dice.whole(1, 3)] as const)),
  lists: ['1', '2'].map((id) => list(id, dice.whole(1, 3), ['same'])),
});

describe('records that become others on a day to come', () => {
  it('put into the rules before give the rules after, whatever was changed, removed and made', () => {
    const dice = new Dice(11);
    const ids = (ws: Workspace) => [...ws.groups].sort((a, b) => (a.id < b.id ? -1 : 1));
    for (let n = 0; n < 500; n++) {
      const [before, after] = [rules(dice), rules(dice)];
      const then = withMoves(before, movesBetween(before, after));
      expect(ids(then)).toEqual(ids(after));
      expect(then.lists).toEqual(after.lists);
      expect(movesBetween(then, after)).toEqual([]);
    }
  });

  it('a list keeps the entries it has by then: they have days of their own', () => {
    const before = { ...emptyWorkspace(), lists: [list('1', 1, ['old'])] };
    const moves = movesBetween(before, { ...before, lists: [list('1', 7, ['old'])] });
    const since = { ...before, lists: [list('1', 1, ['old', 'new'])] };
    expect(withMoves(since, moves).lists).toEqual([list('1', 7, ['old', 'new'])]);
    expect(movesBetween(before, since)).toEqual([]);
  });

  it('a record stays in its place: order decides between equals', () => {
    const before = {
      ...emptyWorkspace(),
      groups: groups([
        ['a', 1],
        ['b', 1],
      ]),
    };
    const moves = movesBetween(before, {
      ...before,
      groups: groups([
        ['a', 2],
        ['b', 1],
      ]),
    });
    expect(withMoves(before, moves).groups.map((g) => `${g.id}${g.rank}`)).toEqual(['a2', 'b1']);
  });
});
