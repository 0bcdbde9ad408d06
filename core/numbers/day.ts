/** A calendar day, ISO 8601 (2026-03-09), in the workspace's time zone. */
export type Day = string;

/** Days since 1 January 1970 of a calendar day, in the proleptic Gregorian calendar (ISO 8601). */
function dayNumber(day: Day): number {
  const [y, m, d] = day.split('-').map(Number) as [number, number, number];
  // March comes first, so that the leap day is the last of its year
  const year = m <= 2 ? y - 1 : y;
  const dayOfYear = Math.floor((153 * (m > 2 ? m - 3 : m + 9) + 2) / 5) + d - 1;
  return year * 365 + Math.floor(year / 4) - Math.floor(year / 100) + Math.floor(year / 400) + dayOfYear - 719468;
}

function dayOf(number: number): Day {
  const z = number + 719468;
  const era = Math.floor(z / 146097);
  const inEra = z - era * 146097;
  const yearInEra = Math.floor(
    (inEra - Math.floor(inEra / 1460) + Math.floor(inEra / 36524) - Math.floor(inEra / 146096)) / 365,
  );
  const dayOfYear = inEra - (365 * yearInEra + Math.floor(yearInEra / 4) - Math.floor(yearInEra / 100));
  const shifted = Math.floor((5 * dayOfYear + 2) / 153);
  const d = dayOfYear - Math.floor((153 * shifted + 2) / 5) + 1;
  const m = shifted < 10 ? shifted + 3 : shifted - 9;
  const y = yearInEra + era * 400 + (m <= 2 ? 1 : 0);
  const two = (n: number) => String(n).padStart(2, '0');
  return `${String(y).padStart(4, '0')}-${two(m)}-${two(d)}`;
}

/** The day `days` later; earlier when negative. */
export function plusDays(day: Day, days: number): Day {
  return dayOf(dayNumber(day) + days);
}

/** Whether a text is a day that the calendar has: 2026-02-29 is not. */
export function isDay(text: string): boolean {
  return /^\d{4}-\d{2}-\d{2}$/.test(text) && dayOf(dayNumber(text)) === text;
}
