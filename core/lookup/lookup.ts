import { type Pausable, toEnd } from '../pausable.ts';

/** What is looked up by an id. */
export interface Lookup<T> {
  get(id: string): T | undefined;
  has(id: string): boolean;
  values(): Iterable<T>;
  keys(): Iterable<string>;
  /** The same with some ids looked up anew, where that is made without asking for every other; to be paused. */
  with?(changed: ReadonlyMap<string, T | undefined>): Pausable<Lookup<T>>;
}

/** A look-up with some of its ids looked up anew, over one that stays as it is: of a hundred thousand rows few are copied. */
class Overlay<T> implements Lookup<T> {
  constructor(
    readonly base: Lookup<T>,
    /** Undefined: it is not there any more. */
    readonly changed: ReadonlyMap<string, T | undefined>,
  ) {}

  get(id: string): T | undefined {
    return this.changed.get(id) ?? (this.changed.has(id) ? undefined : this.base.get(id));
  }

  has(id: string): boolean {
    return this.changed.has(id) ? this.changed.get(id) !== undefined : this.base.has(id);
  }

  *keys(): Iterable<string> {
    for (const id of this.base.keys()) if (!this.changed.has(id)) yield id;
    for (const [id, value] of this.changed) if (value !== undefined) yield id;
  }

  *values(): Iterable<T> {
    for (const id of this.keys()) yield this.get(id)!;
  }

  /** Without what lies below; to be paused. */
  *whole(): Pausable<Lookup<T>> {
    if (this.base.with) return yield* this.base.with(this.changed);
    const out = new Map(this.base as Map<string, T>);
    for (const [id, value] of this.changed)
      if (value === undefined) out.delete(id);
      else out.set(id, value);
    return out;
  }
}

/** With so many ids changed it is put together after all: every look-up asks twice. */
const MOST_CHANGED = 4_000;

/** Put together, where it lies over another; to be paused. */
export function* putTogether<T>(of: Lookup<T>): Pausable<Lookup<T>> {
  return of instanceof Overlay ? yield* (of as Overlay<T>).whole() : of;
}

/** What it lies over; itself, where it does not. */
export const baseOf = (of: Lookup<unknown>): Lookup<unknown> =>
  of instanceof Overlay ? (of.base as Lookup<unknown>) : of;

/** Whether so many ids will have changed that all is put together. */
export const isMuch = <T>(was: Lookup<T>, ids: ReadonlyMap<string, unknown>): boolean =>
  (was instanceof Overlay ? was.changed.size : 0) + ids.size > MOST_CHANGED;

/** A look-up as it is once some ids are looked up anew; `now` has those that are still there. */
export function replaced<T>(was: Lookup<T>, ids: Iterable<string>, now: ReadonlyMap<string, T>): Lookup<T> {
  const [base, before] = was instanceof Overlay ? [was.base as Lookup<T>, was.changed] : [was, new Map<string, T>()];
  const changed = new Map<string, T | undefined>(before as ReadonlyMap<string, T | undefined>);
  for (const id of ids) changed.set(id, now.get(id));
  const next = new Overlay(base, changed);
  return changed.size <= MOST_CHANGED ? next : toEnd(next.whole());
}

/**
 * Where an id is looked up: in what was changed, by its value; else in what lies below. A look-up that makes values anew
 * whenever it is asked stands for all of its own.
 */
export function sourceOf<T>(of: Lookup<T>, id: string): T | Lookup<T> | undefined {
  if (of instanceof Overlay)
    return of.changed.has(id) ? (of.changed.get(id) as T | undefined) : sourceOf(of.base as Lookup<T>, id);
  return of.with ? of : of.get(id);
}
