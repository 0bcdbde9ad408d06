/** How numbers are written in a text: which sign parts the decimals, which may part the thousands. */
export interface NumberFormat {
  readonly decimal: '.' | ',';
  readonly thousands: '' | '.' | ',' | ' ' | "'";
}

export type ParsedNumber =
  { readonly ok: true; readonly value: string } | { readonly ok: false; readonly why: NumberFault };
export type NumberFault = 'empty' | 'not_a_number' | 'misplaced_thousands_mark' | 'too_long';

const SPACES = /[\u0020\u00a0\u202f\u2009]/g;

/**
 * Reads one number in an explicit format and returns it as a plain decimal text.
 * A thousands mark must part exact groups of three ("1.234,5"), so that "1.23" is never read as 123.
 */
export function parseNumber(text: string, format: NumberFormat): ParsedNumber {
  let rest = text
    .trim()
    .replace(/^[+]/, '')
    .replace(/[\u2212\u2013]/, '-');
  if (rest === '') return { ok: false, why: 'empty' };
  let sign = '';
  if (/^\(.*\)$/.test(rest)) {
    sign = '-';
    rest = rest.slice(1, -1);
  } else if (rest.startsWith('-')) {
    sign = '-';
    rest = rest.slice(1).trim();
  } else if (rest.endsWith('-')) {
    sign = '-';
    rest = rest.slice(0, -1).trim();
  }
  const at = rest.indexOf(format.decimal);
  let whole = at < 0 ? rest : rest.slice(0, at);
  const part = at < 0 ? '' : rest.slice(at + 1);
  if (format.thousands !== '' && format.thousands !== format.decimal) {
    const mark = format.thousands === ' ' ? ' ' : format.thousands;
    if (mark === ' ') whole = whole.replace(SPACES, ' ');
    if (whole.includes(mark)) {
      const groups = whole.split(mark);
      const fits = groups.every((g, i) => (i === 0 ? /^\d{1,3}$/.test(g) : /^\d{3}$/.test(g)));
      if (!fits)
        return { ok: false, why: groups.every((g) => /^\d*$/.test(g)) ? 'misplaced_thousands_mark' : 'not_a_number' };
      whole = groups.join('');
    }
  }
  if (!/^\d*$/.test(whole) || !/^\d*$/.test(part) || whole + part === '') return { ok: false, why: 'not_a_number' };
  if (whole.length > 20 || part.length > 15) return { ok: false, why: 'too_long' };
  const digits = (whole.replace(/^0+(?=\d)/, '') || '0') + (part === '' ? '' : `.${part}`);
  return { ok: true, value: /^[0.]*$/.test(digits) ? digits : sign + digits };
}

/**
 * Proposes the number format of a column from its values. A proposal only: the person confirms it.
 * "1.234" alone could be either; then the decimal mark seen elsewhere decides, else the point.
 */
export function proposeNumberFormat(samples: readonly string[]): NumberFormat {
  let comma = 0;
  let point = 0;
  let space = false;
  let apostrophe = false;
  for (const raw of samples) {
    const text = raw.trim();
    if (/\d[\u0020\u00a0\u202f\u2009]\d{3}/.test(text)) space = true;
    if (/\d'\d{3}/.test(text)) apostrophe = true;
    const lastComma = text.lastIndexOf(',');
    const lastPoint = text.lastIndexOf('.');
    if (lastComma >= 0 && lastPoint >= 0) {
      if (lastComma > lastPoint) comma += 4;
      else point += 4;
      continue;
    }
    const commas = text.split(',').length - 1;
    const points = text.split('.').length - 1;
    if (commas > 1) point += 4;
    else if (points > 1) comma += 4;
    else if (commas === 1) comma += /,\d{3}$/.test(text) ? 1 : 3;
    else if (points === 1) point += /\.\d{3}$/.test(text) ? 1 : 3;
  }
  const decimal = comma > point ? ',' : '.';
  const thousands = space ? ' ' : apostrophe ? "'" : decimal === ',' ? '.' : ',';
  return { decimal, thousands };
}
