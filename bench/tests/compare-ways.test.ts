import { describe, expect, it } from 'vitest';
import { largeWorkspace } from '#demo/large-workspace.ts';
import { compareWays } from './compare-ways.ts';
import { RANDOM_DAY, randomWorkspace } from './random-workspace.ts';

// The long version is npm run fuzz; the seed of a difference is in the message.

describe('the bulk way gives what the explained way gives', () => {
  it.each([1, 588, 1768, ...Array.from({ length: 60 }, (_, i) => 10_000 + i)])(
    'on workspaces made to stand on ties, edges, cuts and guards: seed %i',
    (seed) => {
      expect(compareWays(randomWorkspace(seed, seed < 10_000 ? 200 : 40), RANDOM_DAY).mismatch).toBeNull();
    },
  );

  it('on the large workspace, nearly all of it without the explained way', () => {
    const found = compareWays(largeWorkspace(300), RANDOM_DAY);
    expect(found.mismatch).toBeNull();
    expect(found.prices).toBe(3600);
    expect(found.filtered / found.prices).toBeGreaterThan(0.99);
  });
});
