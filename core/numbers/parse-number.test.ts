import { describe, expect, it } from 'vitest';
import { type NumberFormat, parseNumber, proposeNumberFormat } from './parse-number.ts';

const POINT: NumberFormat = { decimal: '.', thousands: ',' };
const COMMA: NumberFormat = { decimal: ',', thousands: '.' };
const SPACED: NumberFormat = { decimal: ',', thousands: ' ' };

describe('reading a number that a supplier wrote', () => {
  it.each<[string, NumberFormat, string]>([
    ['214.50', POINT, '214.50'],
    ['1,234.5', POINT, '1234.5'],
    ['1.234,50', COMMA, '1234.50'],
    ['214,5', COMMA, '214.5'],
    ['1 234,50', SPACED, '1234.50'],
    ['1\u00a0234,50', SPACED, '1234.50'],
    ['1\u202f234', SPACED, '1234'],
    ['-3.5', POINT, '-3.5'],
    ['3.5-', POINT, '-3.5'],
    ['(3.50)', POINT, '-3.50'],
    ['+7', POINT, '7'],
    ['.5', POINT, '0.5'],
    ['007.10', POINT, '7.10'],
    ['-0', POINT, '0'],
    ['12345678901234567890.12', POINT, '12345678901234567890.12'],
  ])('%s', (text, format, value) => expect(parseNumber(text, format)).toEqual({ ok: true, value }));

  it.each<[string, NumberFormat, string]>([
    ['', POINT, 'empty'],
    ['   ', POINT, 'empty'],
    ['n/a', POINT, 'not_a_number'],
    ['12.3.4', POINT, 'not_a_number'],
    ['1e5', POINT, 'not_a_number'],
    ['1,23', POINT, 'misplaced_thousands_mark'],
    ['1.23', COMMA, 'misplaced_thousands_mark'],
    ['12 34', SPACED, 'misplaced_thousands_mark'],
    ['214,50', { decimal: '.', thousands: '' }, 'not_a_number'],
    ['£214.50', POINT, 'not_a_number'],
  ])('%s is refused, never guessed at', (text, format, why) =>
    expect(parseNumber(text, format)).toEqual({ ok: false, why }),
  );

  it.each<[string[], NumberFormat]>([
    [['214.50', '12.20'], POINT],
    [['214,50', '12,2'], COMMA],
    [['1.234,50', '7,10'], COMMA],
    [['1 234,50'], SPACED],
    [['1,234.50', '1,100'], POINT],
    [["1'234.50"], { decimal: '.', thousands: "'" }],
    [['1.234', '7,5'], COMMA],
    [['1.234'], POINT],
    [[], POINT],
  ])('proposes how %j is written', (samples, format) => expect(proposeNumberFormat(samples)).toEqual(format));
});
