import { hash } from '@node-rs/argon2';
import { ZxcvbnFactory } from '@zxcvbn-ts/core';
import { adjacencyGraphs, dictionary } from '@zxcvbn-ts/language-common';

/** Argon2id with the library's defaults (19 MiB, 2 passes), after the OWASP recommendation. */
export function hashPassword(password: string): Promise<string> {
  return hash(password);
}

const strength = new ZxcvbnFactory({ dictionary, graphs: adjacencyGraphs });

/** 3 of 0 to 4: more than 10⁸ guesses, as the library counts them. */
const ENOUGH = 3;

/**
 * Why a password would be guessed, or null: it is among the common ones, a pattern (a row of keys, a repetition, a date),
 * or made of the words in `known` (the person's name, the sign-in name, the company).
 */
export function guessable(password: string, known: readonly string[]): string | null {
  const words = known.flatMap((w) => [w, ...w.split(/\s+/)]).filter((w) => w.length > 2);
  if (strength.check(password.slice(0, 100), words).score >= ENOUGH) return null;
  return 'would be guessed soon: it is, or is made of, a common password, a row of keys, a date or your own names. Several words that do not belong together are better';
}
