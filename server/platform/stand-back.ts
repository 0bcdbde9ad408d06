import { platform, setPriority } from 'node:os';
import { isMainThread } from 'node:worker_threads';

/**
 * Lets others go first: a thread that computes for long takes what answers leave of the processors. `by`: how far, as the
 * system counts it (up to 19). Where a priority is the whole process's, nothing is done.
 */
export function standBack(by: number): void {
  if (!isMainThread && platform() === 'linux') setPriority(by);
}
