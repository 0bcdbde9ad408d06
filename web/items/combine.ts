/** An attribute with the values that variants have of it. */
export interface Axis {
  readonly name: string;
  readonly values: readonly string[];
}

/** Every combination of the values, the last attribute changing first. */
export const combinations = (axes: readonly Axis[]): Readonly<Record<string, string>>[] =>
  axes
    .filter((a) => a.values.length > 0)
    .reduce<Record<string, string>[]>(
      (rows, { name, values }) => rows.flatMap((row) => values.map((v) => ({ ...row, [name]: v }))),
      [{}],
    );

/**
 * Puts an item's values into a pattern: {colour} is the value, {colour:2} its first two letters or digits in capitals, {diameter:02}
 * the number in two digits. What names nothing stays as it was typed.
 */
export function fillPattern(pattern: string, values: Readonly<Record<string, string>>): string {
  return pattern.replace(
    /\{([^{}:]+)(?::(0?)(\d))?\}/g,
    (whole, name: string, zero: string | undefined, count?: string) => {
      const value = values[name.trim()];
      if (value === undefined) return whole;
      if (!count) return value;
      return zero ? value.padStart(Number(count), '0') : bareLetters(value).slice(0, Number(count)).toUpperCase();
    },
  );
}

const bareLetters = (text: string) => text.replace(/[^\p{L}\p{N}]/gu, '');
