import { createHash } from 'node:crypto';

/** A number from 0 to just under 1 that belongs to a text: the same on every machine. */
export function fate(...of: readonly string[]): number {
  return createHash('sha256').update(of.join('\u0000')).digest().readUInt32BE(0) / 0x1_0000_0000;
}

/** How a supplier's service answers. */
export const MOODS = ['well', 'slow', 'down', 'half', 'rubbish'] as const;
export type Mood = (typeof MOODS)[number];

/** For so long it stays as it is, in milliseconds. */
const SPELL_MS = 10 * 60_000;

/** Of ten spells nine are good ones; which are not, is settled by the supplier's name and the time. */
export function moodAt(supplier: string, at: Date): Mood {
  const dice = fate('mood', supplier, String(Math.floor(at.getTime() / SPELL_MS)));
  if (dice < 0.9) return 'well';
  return MOODS[1 + (Math.floor(dice * 10_000) % 4)]!;
}
