/** What is looked up by an id. */
export interface Lookup<T> {
  get(id: string): T | undefined;
  has(id: string): boolean;
  values(): Iterable<T>;
}

/** A look-up with some of its ids looked up anew, over one that stays as it is: of a hundred thousand rows few are copied. */
class Overlay<T> implements Lookup<T> {
  constructor(
    readonly base: ReadonlyMap<string, T>,
    /** Undefined: it is not there any more. */
    readonly changed: ReadonlyMap<string, T | undefined>,
  ) {}

  get(id: string): T | undefined {
    return this.changed.get(id) ?? (this.changed.has(id) ? undefined : this.base.get(id));
  }

  has(id: string): boolean {
    return this.get(id) !== undefined;
  }

  *values(): Iterable<T> {
    for (const [id, value] of this.base) if (!this.changed.has(id)) yield value;
    for (const value of this.changed.values()) if (value !== undefined) yield value;
  }
}

/** With so many ids changed it is copied after all: every look-up asks twice. */
const MOST_CHANGED = 4_000;

/** A look-up as it is once some ids are looked up anew; `now` has those that are still there. */
export function replaced<T>(
  was: ReadonlyMap<string, T> | Lookup<T>,
  ids: Iterable<string>,
  now: ReadonlyMap<string, T>,
): Lookup<T> {
  const [base, before] = was instanceof Overlay ? [was.base, was.changed] : [was as ReadonlyMap<string, T>, new Map()];
  const changed = new Map<string, T | undefined>(before);
  for (const id of ids) changed.set(id, now.get(id));
  if (changed.size <= MOST_CHANGED) return new Overlay(base, changed);
  const out = new Map(base);
  for (const [id, value] of changed)
    if (value === undefined) out.delete(id);
    else out.set(id, value);
  return out;
}
