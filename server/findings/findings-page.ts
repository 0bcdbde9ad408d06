import { FINDINGS_PAGE, type Findings, type CheckStands, type SomeFindings } from '#contract/findings.ts';
import { wordsOf } from '#contract/filters.ts';
import { FINDINGS, FINDING_CODES, type Finding, type FindingCode } from '#core/checks/finding.ts';
import type { Prepared } from '#core/workspace/prepared.ts';
import { refused } from '../platform/refused.ts';
import { type FoundThing, named, shown } from './places.ts';

/** Which findings are asked for; what is empty asks for nothing. */
export interface AskedFindings {
  readonly kind: FindingCode | '';
  readonly list: string;
  readonly words: readonly string[];
  readonly about: string;
  readonly at: number;
}

/** Reads what is asked for. Refuses a kind that the check does not know. */
export function askedFindings(query: Readonly<Record<string, string>>): AskedFindings {
  const asked = query['kind'] ?? '';
  const kind = asked === '' ? '' : FINDING_CODES.find((code) => code === asked);
  const message = `must be one of ${FINDING_CODES.join(', ')}`;
  if (kind === undefined) throw refused('fields_wrong', {}, { faults: [{ path: 'kind', message }] });
  return {
    kind,
    list: query['list'] ?? '',
    words: wordsOf(query['find'] ?? ''),
    about: query['about'] ?? '',
    at: /^\d{1,9}$/.test(query['at'] ?? '') ? Number(query['at']) : 0,
  };
}

/** All that is said of a finding, to be searched. */
const textOf = (f: FoundThing): string =>
  [FINDINGS[f.code], ...f.places.map((p) => p.title), ...f.lists, ...f.example.map((e) => e.value)]
    .join(' ')
    .toLowerCase();

/** A page of those that are asked for, with all that is found counted by kind. */
export function findingsPage(
  stands: CheckStands,
  found: readonly FoundThing[],
  { kind, list, words, about, at }: AskedFindings,
): Findings {
  const counts = new Map<FindingCode, number>();
  const lists = new Set<string>();
  const rows: FoundThing[] = [];
  let count = 0;
  for (const f of found) {
    counts.set(f.code, (counts.get(f.code) ?? 0) + 1);
    for (const name of f.lists) lists.add(name);
    if (kind !== '' && f.code !== kind) continue;
    if (list !== '' && !f.lists.includes(list)) continue;
    if (about !== '' && !f.places.some((p) => p.to === about)) continue;
    if (words.length > 0) {
      const text = textOf(f);
      if (!words.every((w) => text.includes(w))) continue;
    }
    if (count >= at && rows.length < FINDINGS_PAGE) rows.push(f);
    count++;
  }
  return {
    ...stands,
    kinds: [...counts].map(([code, n]) => ({ code, message: FINDINGS[code], count: n })),
    total: found.length,
    lists: [...lists].sort(),
    count,
    findings: rows.map(shown),
  };
}

/** The first of some findings, and how many there are. */
export const someOf = (ws: Prepared, found: readonly Finding[]): SomeFindings => ({
  count: found.length,
  findings: found.slice(0, FINDINGS_PAGE).map((f) => shown(named(ws, f))),
});
