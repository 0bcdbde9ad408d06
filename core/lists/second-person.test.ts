import { describe, expect, it } from 'vitest';
import { needsSecondPerson } from './second-person.ts';

const CASES: readonly [
  beyond: string | null,
  before: string | null,
  after: string | null,
  asks: boolean,
  what: string,
][] = [
  [null, '10', '99', false, 'nobody is asked where the list says nothing'],
  ['5', '10', '10.50', false, 'a move of exactly so much is not beyond it'],
  ['5', '10', '10.51', true, 'one cent more is'],
  ['5', '10', '9.49', true, 'a fall counts like a rise'],
  ['5', null, '10', true, 'a first price has nothing it could be near to'],
  ['5', '10', null, true, 'a price that ends is a move'],
  ['5', '0', '0.01', true, 'from nothing every price is far'],
  ['5', '0', '0', false, 'nothing that stays nothing does not move'],
  ['5', '10', '10.00', false, 'a price that stays does not move, however it is written'],
  ['0', '10', '10', true, 'at 0 every posting is asked about, also one that only releases a typed price'],
  ['0.1', '333.33', '333.66', false, '0.099 % is not beyond 0.1 %: no rounding on the way'],
];

describe('who else has to agree to a posting', () => {
  it.each(CASES)('%s %%: %s to %s asks: %s (%s)', (beyond, before, after, asks) => {
    expect(
      needsSecondPerson(beyond, [
        { before: '1', after: '1' },
        { before, after },
      ]),
    ).toBe(asks);
  });
  it('asks nobody where nothing is posted', () => {
    expect(needsSecondPerson('0', [])).toBe(false);
  });
});
