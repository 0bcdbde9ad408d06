import { FINDINGS_PAGE, type CheckStands, type Findings, type ShownFinding } from '#contract/findings.ts';
import type { Sent } from './visit.tsx';

/** A server that has found these things: the page of them that is asked for. */
export const foundThings =
  (all: readonly ShownFinding[], stands: Partial<CheckStands> = {}) =>
  ({ path }: Sent): Findings => {
    const asked = new URLSearchParams(path.split('?')[1]);
    const is = (name: string, fits: (wanted: string) => boolean) => !asked.get(name) || fits(asked.get(name)!);
    const fit = all.filter(
      (f) =>
        is('kind', (kind) => f.code === kind) &&
        is('list', (list) => f.lists.includes(list)) &&
        is('find', (find) => f.places.some((p) => p.title.includes(find))) &&
        is('about', (about) => f.places.some((p) => p.to === about)),
    );
    const at = Number(asked.get('at') ?? 0);
    const kinds = [...new Map(all.map((f) => [f.code, f.message]))];
    return {
      ...{ at: '2026-03-09T10:00:00Z', day: '2026-03-09', stale: false, running: false, trouble: null, ...stands },
      kinds: kinds.map(([code, message]) => ({ code, message, count: all.filter((f) => f.code === code).length })),
      total: all.length,
      lists: [...new Set(all.flatMap((f) => f.lists))].sort(),
      count: fit.length,
      findings: fit.slice(at, at + FINDINGS_PAGE),
    };
  };

/** A change after which the check finds nothing more and nothing less. */
export const NOTHING_FOUND = { adds: { count: 0, findings: [] }, settles: { count: 0, findings: [] } };
