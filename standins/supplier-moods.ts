import { createHash } from 'node:crypto';

/** A number from 0 to just under 1 that belongs to a text: the same on every machine. */
export function fate(...of: readonly string[]): number {
  return createHash('sha256').update(of.join('\u0000')).digest().readUInt32BE(0) / 0x1_0000_0000;
}

/** How a supplier's service answers on a day. */
export const MOODS = ['well', 'slow', 'down', 'half', 'rubbish'] as const;
export type Mood = (typeof MOODS)[number];

/** Of ten days nine are good ones; which are not, is settled by the supplier's name and the day. */
export function moodOn(supplier: string, day: string): Mood {
  const dice = fate('mood', supplier, day);
  if (dice < 0.9) return 'well';
  return MOODS[1 + (Math.floor(dice * 10_000) % 4)]!;
}
