import { readFileSync } from 'node:fs';
import { availableParallelism, platform } from 'node:os';
import { performance } from 'node:perf_hooks';

/** Seconds of the fastest of several runs: what else the machine did counts least in it. */
export function best(runs: number, work: () => void): number {
  let least = Infinity;
  for (let i = 0; i < runs; i++) {
    const start = performance.now();
    work();
    least = Math.min(least, (performance.now() - start) / 1000);
  }
  return least;
}

/** The fastest of several runs of each, taken in turns, so that a busy moment of the machine does not meet only one of them. */
export function alternating(runs: number, works: readonly (() => void)[]): number[] {
  const least = works.map(() => Infinity);
  for (let i = 0; i < runs; i++) works.forEach((work, w) => (least[w] = Math.min(least[w]!, best(1, work))));
  return least;
}

export const perSecond = (count: number, seconds: number): string =>
  Math.round(count / seconds)
    .toLocaleString('en-GB')
    .padStart(9);

/** How many times as long. */
export const ratio = (a: number, b: number): string => `${(a / b).toFixed(2)} times`;

export function say(line: string): void {
  process.stdout.write(`${line}\n`);
}

/**
 * How much of the processors' time other machines of the same host have taken since this was asked for, in percent: figures in
 * milliseconds are those of a quiet machine only where it is next to nothing. Null where the system does not tell.
 */
export function takenByOthers(): () => number | null {
  const [began, before] = [performance.now(), stolenSeconds()];
  return () => {
    const now = stolenSeconds();
    if (before === null || now === null) return null;
    return ((now - before) / (((performance.now() - began) / 1000) * availableParallelism())) * 100;
  };
}

/** The eighth figure of the line of all processors, in hundredths of a second. */
function stolenSeconds(): number | null {
  if (platform() !== 'linux') return null;
  const [, ...figures] = readFileSync('/proc/stat', 'utf8').split('\n', 1)[0]!.split(/\s+/);
  return Number(figures[7]) / 100;
}
