import { fate } from './supplier-moods.ts';

/** What one unit of `from` is in `to` on a day, as a service of rates quotes it. */
export interface QuotedRate {
  readonly from: string;
  readonly to: string;
  readonly day: string;
  readonly rate: string;
}

const PAIRS = [
  { from: 'GBP', to: 'EUR', around: 1.164 },
  { from: 'EUR', to: 'SEK', around: 11.205 },
  { from: 'EUR', to: 'NOK', around: 11.62 },
  { from: 'EUR', to: 'USD', around: 1.083 },
] as const;

const DAY_MS = 86_400_000;
/** How many days before today it knows of: eighteen months. */
export const DAYS_KNOWN = 548;

const dayAt = (ms: number) => new Date(ms).toISOString().slice(0, 10);

/** The rate of a pair on a day: it wanders about its middle, and is made anew the same every time. */
function rateOn(from: string, to: string, around: number, ms: number): string {
  const weeks = ms / (7 * DAY_MS);
  const slow = Math.sin(weeks / 9 + fate('rate', from, to) * 6) * 0.011;
  const daily = (fate('rate', from, to, dayAt(ms)) - 0.5) * 0.004;
  return (around * (1 + slow + daily)).toFixed(4);
}

/** Rates of every working day from one day to another, both with; never before the first day that is known or after today. */
export function quotedRates(from: string, today: string): QuotedRate[] {
  const last = Date.parse(`${today}T00:00:00Z`);
  const first = Math.max(Date.parse(`${from}T00:00:00Z`), last - DAYS_KNOWN * DAY_MS);
  const out: QuotedRate[] = [];
  for (let ms = first; ms <= last; ms += DAY_MS) {
    if ([0, 6].includes(new Date(ms).getUTCDay())) continue;
    for (const p of PAIRS)
      out.push({ from: p.from, to: p.to, day: dayAt(ms), rate: rateOn(p.from, p.to, p.around, ms) });
  }
  return out;
}
