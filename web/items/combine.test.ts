import { describe, expect, it } from 'vitest';
import { combinations, fillPattern } from './combine.ts';

describe('variants', () => {
  it('are every combination of the values that were chosen', () => {
    const axes = [
      { name: 'diameter', values: ['8', '10'] },
      { name: 'material', values: [] },
      { name: 'colour', values: ['navy', 'signal red'] },
    ];
    expect(combinations(axes).map((v) => Object.values(v).join(' '))).toEqual([
      '8 navy',
      '8 signal red',
      '10 navy',
      '10 signal red',
    ]);
  });
  it.each([
    ['BL-{diameter:02}-{colour:2}', 'BL-08-SI'],
    ['Line {diameter} mm, {colour}', 'Line 8 mm, signal red'],
    ['{ colour :9}', 'SIGNALRED'],
    ['{length} stays', '{length} stays'],
    ['{', '{'],
  ])('“%s” is filled as “%s”', (pattern, filled) =>
    expect(fillPattern(pattern, { diameter: '8', colour: 'signal red' })).toBe(filled),
  );
});
