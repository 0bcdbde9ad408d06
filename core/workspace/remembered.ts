/** Unless it is said otherwise, so many of a kind are remembered at least, and twice as many at most. */
export const REMEMBERED = 2_000;
/**
 * What was worked out, by a key. What was not asked for lately is forgotten: the landed costs of a hundred thousand items,
 * with their steps, are 300 MB.
 */
export class Remembered {
  constructor(private readonly most = REMEMBERED) {}

  private recent = new Map<string, unknown>();
  private before = new Map<string, unknown>();

  get<T>(key: string, work: () => T): T {
    const recent = this.recent.get(key) as T | undefined;
    if (recent !== undefined) return recent;
    const found = (this.before.get(key) as T | undefined) ?? work();
    if (this.recent.size >= this.most) {
      this.before = this.recent;
      this.recent = new Map();
    }
    this.recent.set(key, found);
    return found;
  }
}
