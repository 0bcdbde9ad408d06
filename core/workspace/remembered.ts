/** So many of a kind are remembered at least, and twice as many at most. */
export const REMEMBERED = 500;

/**
 * What was worked out, by a key. What was not asked for lately is forgotten: the landed costs of a hundred thousand items,
 * with their steps, are 300 MB; and where items are asked for one after the other, many that are remembered for a while and
 * never asked for again would grow old in memory, to be looked for when all of it is looked through.
 */
export class Remembered {
  private recent = new Map<string, unknown>();
  private before = new Map<string, unknown>();

  get<T>(key: string, work: () => T): T {
    const recent = this.recent.get(key) as T | undefined;
    if (recent !== undefined) return recent;
    const found = (this.before.get(key) as T | undefined) ?? work();
    if (this.recent.size >= REMEMBERED) {
      this.before = this.recent;
      this.recent = new Map();
    }
    this.recent.set(key, found);
    return found;
  }
}
