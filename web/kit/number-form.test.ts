import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type NumberForm, formOf, read, readDay, show, showDay, showFact, showMoment, shorten } from './number-form.ts';

const forms: NumberForm[] = ['point', 'comma'];

describe('numbers in the reader’s own form', () => {
  it('what is shown is read back as the same figure, digit for digit', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...forms),
        fc.bigInt({ min: -(10n ** 18n), max: 10n ** 18n }),
        fc.stringMatching(/^\d{0,6}$/),
        (form, whole, part) => {
          const text = `${whole}${part === '' ? '' : `.${part}`}`;
          expect(read(show(text, form), form)).toEqual({
            ok: true,
            value: /^-?0(\.0*)?$/.test(text) ? text.replace('-', '') : text,
          });
        },
      ),
      { numRuns: 2000 },
    );
  });
  it('never reads the other form’s number as something else', () => {
    expect(read('1.234,50', 'point').ok).toBe(false);
    expect(read('12,5', 'point').ok).toBe(false);
    expect(read('1.5', 'comma').ok).toBe(false);
    expect(read('1.234', 'comma')).toEqual({ ok: true, value: '1234' });
  });
  it('groups, pads and signs', () => {
    expect(show('-1234567.5', 'comma', 2)).toBe('\u22121.234.567,50');
    expect(show('0.05', 'point', 2)).toBe('0.05');
  });
  it('writes a moment on the day that a time zone counts it to', () => {
    expect(showMoment('2026-03-09T23:30:00.000Z', 'comma', 'Europe/Berlin')).toBe('10.03.2026 00:30');
    expect(showMoment('2026-07-01T00:05:00.000Z', 'point', 'America/New_York')).toBe('30/06/2026 20:05');
    expect(showMoment('2026-03-09T23:30:59.999Z', 'point', 'UTC')).toBe('09/03/2026 23:30');
  });
  it('cuts long figures for showing, half up', () => {
    expect(['1.2469658', '0.99996', '-1.00005', '7', '9.9999'].map((t) => shorten(t, 4))).toEqual([
      '1.2470',
      '1.0000',
      '-1.0001',
      '7',
      '9.9999',
    ]);
  });
  it('days are read in the reader’s order, as ISO too; what is none is refused, never guessed', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...forms),
        fc.date({ min: new Date('1950-01-01'), max: new Date('2150-12-31'), noInvalidDate: true }),
        (form, at) => {
          const day = at.toISOString().slice(0, 10);
          expect(readDay(showDay(day, form), form)).toEqual({ ok: true, value: day });
          expect(readDay(day, form)).toEqual({ ok: true, value: day });
        },
      ),
    );
    expect(readDay('9.3.26', 'comma')).toEqual({ ok: true, value: '2026-03-09' });
    for (const wrong of ['31/02/2026', '13', '2026-13-01', '1/1/26 x', 'tomorrow', '03/2026'])
      expect(readDay(wrong, 'point').ok).toBe(false);
  });
  it('facts are shown in the reader’s own form, days inside a sentence too', () => {
    expect(
      ['2026-03-09', 'since 2026-03-09, posting 4', '0.0825377', 'carton'].map((f) => showFact(f, 'comma')),
    ).toEqual(['09.03.2026', 'since 09.03.2026, posting 4', '0,082538', 'carton']);
  });
  it('follows the language, and shows days in its order', () => {
    expect([formOf('en-GB'), formOf('de-DE')]).toEqual(['point', 'comma']);
    expect([showDay('2026-03-09', 'point'), showDay('2026-03-09', 'comma')]).toEqual(['09/03/2026', '09.03.2026']);
  });
});
