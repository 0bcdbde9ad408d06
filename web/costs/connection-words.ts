import type { Connection } from '#contract/connections.ts';
import type { Moment } from '../frame/moments.ts';
import { counted } from '../kit/words.ts';

/** Connected, and not tried yet since. */
export const isBeingAsked = (c: Connection): boolean => c.state === 'on' && c.nextTry === null;

/** How a supplier's service stands, in a sentence. */
export function connectionWords(c: Connection, moment: Moment): string {
  if (c.state === null) return 'not connected';
  if (c.state === 'asked') return `asked for by ${c.askedBy ?? 'somebody'}${c.askedNote ? `: ${c.askedNote}` : ''}`;
  if (c.state === 'off') return 'stopped';
  if (isBeingAsked(c)) return 'is being asked …';
  const followed = c.brands.length === 0 ? 'all brands' : counted(c.brands.length, 'brand');
  const [n, unit] = c.everyHours % 24 === 0 ? [c.everyHours / 24, 'day'] : [c.everyHours, 'hour'];
  const every = n === 1 ? unit : counted(n, unit);
  const answered = c.lastAnswer ? `answered ${moment(c.lastAnswer)}` : 'has not answered yet';
  return `${answered} · ${followed}, every ${every}`;
}
