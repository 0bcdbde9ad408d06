/** Long work that may be paused wherever it yields: others have their turn, or it is given up. */
export type Pausable<T> = Generator<undefined, T, undefined>;

/** Does it all at once. */
export function toEnd<T>(work: Pausable<T>): T {
  for (;;) {
    const step = work.next();
    if (step.done) return step.value;
  }
}
