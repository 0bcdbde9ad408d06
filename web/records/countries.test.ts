import { expect, it } from 'vitest';
import { COUNTRIES } from './countries.ts';

it('every country lies on one continent, and is found by it', () => {
  const on = (name: string) => COUNTRIES.filter((c) => c.also === name).length;
  const counts = ['Africa', 'Antarctica', 'Asia', 'Europe', 'North America', 'Oceania', 'South America'].map(on);
  expect(counts.reduce((a, b) => a + b)).toBe(COUNTRIES.length);
  // none was missed and so fell to Europe: the codes that are named are codes that exist
  expect(on('Europe')).toBeLessThan(56);
  for (const [code, continent] of [
    ['NO', 'Europe'],
    ['GL', 'North America'],
    ['NZ', 'Oceania'],
    ['JP', 'Asia'],
    ['ZA', 'Africa'],
    ['BR', 'South America'],
  ])
    expect([code, COUNTRIES.find((c) => c.id === code)?.also]).toEqual([code, continent]);
});
