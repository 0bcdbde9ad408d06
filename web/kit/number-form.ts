import { isDay } from '#core/numbers/day.ts';
import { type NumberFormat, parseNumber } from '#core/numbers/parse-number.ts';

/** How the reader writes numbers; figures are kept and sent as plain decimal text. */
export type NumberForm = 'point' | 'comma';

export const FORMS: Record<NumberForm, NumberFormat & { group: string; sample: string }> = {
  point: { decimal: '.', thousands: ',', group: ',', sample: '1,234.50' },
  comma: { decimal: ',', thousands: '.', group: '.', sample: '1.234,50' },
};

export function formOf(language: string): NumberForm {
  return new Intl.NumberFormat(language).format(1.5).includes(',') ? 'comma' : 'point';
}

/** A plain decimal text in the reader's form. No digit is lost, none is added but zeros up to `places`. */
export function show(text: string, form: NumberForm, places = 0): string {
  const { decimal, group } = FORMS[form];
  const negative = text.startsWith('-');
  const [whole = '0', part = ''] = (negative ? text.slice(1) : text).split('.');
  const grouped = whole.replace(/\B(?=(\d{3})+(?!\d))/g, group);
  const decimals = part.padEnd(places, '0');
  return `${negative ? '\u2212' : ''}${grouped}${decimals ? decimal + decimals : ''}`;
}

/** For showing only: a long figure cut to some decimals, half up, with a sign that there is more. */
export function shorten(text: string, places: number): string {
  const [whole, part = ''] = text.split('.');
  if (part.length <= places) return text;
  const scale = 10n ** BigInt(places);
  const negative = text.startsWith('-');
  const digits =
    BigInt((whole ?? '0').replace('-', '')) * scale +
    BigInt(part.slice(0, places) || '0') +
    (part[places]! >= '5' ? 1n : 0n);
  const cut = `${digits / scale}${places > 0 ? `.${String(digits % scale).padStart(places, '0')}` : ''}`;
  return `${negative ? '-' : ''}${cut}`;
}

export type Read = { ok: true; value: string } | { ok: false; message: string };

/** Reads what a person typed in their own form; empty stays empty. */
export function read(text: string, form: NumberForm): Read {
  if (text.trim() === '') return { ok: true, value: '' };
  const found = parseNumber(text, FORMS[form]);
  return found.ok ? found : { ok: false, message: `"${text}" is not a number; write it like ${FORMS[form].sample}` };
}

/** How a day is written in each form. */
const DAY_SAMPLES: Record<NumberForm, string> = { point: '31/12/2026', comma: '31.12.2026' };

/** Reads a day that a person typed in their own order, or as ISO; a year of two digits is one of this century. */
export function readDay(text: string, form: NumberForm): Read {
  const t = text.trim();
  if (t === '') return { ok: true, value: '' };
  const [, y, m, d] = /^(\d{4})-(\d{1,2})-(\d{1,2})$/.exec(t) ?? [];
  const [, day = d, month = m, year = y] = /^(\d{1,2})[./ -](\d{1,2})[./ -](\d{4}|\d{2})$/.exec(t) ?? [];
  if (day && month && year) {
    const iso = `${year.length === 2 ? '20' : ''}${year}-${month.padStart(2, '0')}-${day.padStart(2, '0')}`;
    if (isDay(iso)) return { ok: true, value: iso };
  }
  return { ok: false, message: `"${text}" is not a day; write it like ${DAY_SAMPLES[form]}` };
}

const MARK = 'not readable: ';

/** What was typed and could not be read, as a value that nothing takes for a number. */
export const unreadable = (typed: string): string => `${MARK}${typed}`;

/** What was typed, of a value that could not be read; null: the value can be. */
export const typedText = (value: string): string | null => (value.startsWith(MARK) ? value.slice(MARK.length) : null);

/** A day in the reader's order; the figures stay those of the ISO day. */
export function showDay(day: string, form: NumberForm): string {
  const [y, m, d] = day.slice(0, 10).split('-');
  return form === 'comma' ? `${d}.${m}.${y}` : `${d}/${m}/${y}`;
}

/** Every day in a text in the reader's order; all else stays, digit for digit. */
export function daysIn(text: string, form: NumberForm): string {
  return text.replace(/\b\d{4}-\d{2}-\d{2}\b/g, (day) => showDay(day, form));
}

/** A fact of a build-up as the reader writes it: a figure in their form, cut to six decimals, or a text with its days. */
export function showFact(value: string, form: NumberForm): string {
  return /^-?\d+(\.\d+)?$/.test(value) ? show(shorten(value, 6), form) : daysIn(value, form);
}

/** A moment in the reader's order, to the minute, on the calendar and clock of a time zone. */
export function showMoment(iso: string, form: NumberForm, timeZone: string): string {
  const parts = clockOf(timeZone).formatToParts(new Date(iso));
  const at = Object.fromEntries(parts.map(({ type, value }) => [type, value]));
  return `${showDay(`${at['year']}-${at['month']}-${at['day']}`, form)} ${at['hour']}:${at['minute']}`;
}

const clocks = new Map<string, Intl.DateTimeFormat>();
/** They are dear to make, and tables write hundreds of moments. */
function clockOf(timeZone: string): Intl.DateTimeFormat {
  const known = clocks.get(timeZone);
  if (known) return known;
  const two = '2-digit';
  const parts = { year: 'numeric', month: two, day: two, hour: two, minute: two, hourCycle: 'h23' } as const;
  const made = new Intl.DateTimeFormat('en-GB', { timeZone, ...parts });
  clocks.set(timeZone, made);
  return made;
}
