import { dayText } from '#contract/fields.ts';
import { type Context, dayIn } from '../platform/context.ts';
import { refused } from '../platform/refused.ts';
import { readSettings } from '../setup/settings.ts';

export async function today(context: Context): Promise<string> {
  return dayIn((await readSettings(context.db)).timeZone, context.now());
}

/** The day that figures are asked for; today where none is named. */
export async function askedDay(context: Context, query: Record<string, string>): Promise<string> {
  const asked = query['day'];
  if (!asked) return today(context);
  if (!dayText().isValidSync(asked))
    throw refused('fields_wrong', {}, { faults: [{ path: 'day', message: 'must be a day such as 2026-03-09' }] });
  return asked;
}
