import { describe, expect, it } from 'vitest';
import { dec, plain } from '../numbers/decimal.ts';
import { Derivation, replay } from './steps.ts';

const START = { kind: 'cost', currency: 'EUR', per: 'pack' } as const;

describe('a step before a rounding', () => {
  // 1 ÷ 3 × 2.295 comes to 0.76499…9 in fifty digits, and is decided as 0.765
  const derivation = () => {
    const d = new Derivation();
    d.add({ ...START, operation: { op: 'start', value: '1' } });
    d.add({ ...START, operation: { op: 'divide', value: '3' } });
    d.add({ ...START, operation: { op: 'times', value: '2.295' } });
    return d;
  };

  it('shows the figure that is rounded, so that whoever replays it as written reaches the same', () => {
    const d = derivation();
    expect(plain(d.figure)).not.toBe('0.765');
    d.add({ ...START, kind: 'decimals', operation: { op: 'round', decimals: 2, way: 'half_up' } });
    expect(d.steps.map((s) => s.after).slice(-2)).toEqual(['0.765', '0.77']);
    expect(d.steps.at(-1)!.before).toBe('0.765');
    expect(dec(d.steps.at(-2)!.after).toDecimalPlaces(2).toFixed()).toBe('0.77');
    expect(replay(d.steps)).toEqual({ ok: true, figure: '0.77' });
  });

  it('of another derivation it went on from stays as it was', () => {
    const d = derivation();
    const other = new Derivation();
    other.continueFrom(d.steps, d.figure);
    other.add({ ...START, kind: 'decimals', operation: { op: 'round', decimals: 2, way: 'half_up' } });
    expect(d.steps.at(-1)!.after).not.toBe('0.765');
  });

  it('that was changed by hand does not replay', () => {
    const d = derivation();
    const steps = d.steps.with(2, { ...d.steps[2]!, after: '0.76' });
    expect(replay(steps)).toEqual({ ok: false, at: 2 });
  });
});
