import type { ShownProof } from '#contract/findings.ts';
import { answer } from '#core/evaluator/answer.ts';
import type { Proof } from '#core/proofs/proof.ts';
import type { ProofResult } from '#core/proofs/run-proofs.ts';
import type { PostedPrice } from '#core/lists/posted-price.ts';
import { Prepared } from '#core/workspace/prepared.ts';
import type { Db } from '../platform/database.ts';
import { readDeclared } from '../records/load.ts';
import { workspaceOn } from '../workspace/state.ts';

/** The day a proof asks about: that of the change it ends with, where it asks about changes. */
function dayOf({ question }: Proof): string {
  if (question.kind === 'changes') return question.changes.at(-1)?.day ?? question.accepted.day;
  return question.day;
}

/** A price as it would be posted, by nobody yet. */
export type WouldBePosted = Pick<PostedPrice, 'list' | 'item' | 'pack' | 'price' | 'from'>;

/** Asks every proof again, each in the state of its day; with prices in force that are not, where they are given. */
export async function runKeptProofs(db: Db, besides: readonly WouldBePosted[] = []): Promise<ShownProof[]> {
  const { proofs } = (await readDeclared(db)).members;
  const out: ShownProof[] = [];
  for (const day of [...new Set(proofs.map(dayOf))].sort()) {
    const ws = withPrices((await workspaceOn(db, day)).ws, besides);
    const own = proofs.filter((p) => dayOf(p) === day);
    const results = new Map(ask(ws, own).map((r) => [r.id, r]));
    out.push(...own.map((proof) => shown(proof, day, results.get(proof.id))));
  }
  return out.sort((a, b) => Number(a.holds) - Number(b.holds) || Number(a.id) - Number(b.id));
}

function withPrices(ws: Prepared, besides: readonly WouldBePosted[]): Prepared {
  if (besides.length === 0) return ws;
  // known after everything that is
  const posted = besides.map((p) => ({ ...p, posting: '', entry: Number.MAX_SAFE_INTEGER }));
  const moved = new Map<string, PostedPrice[]>();
  for (const p of posted) {
    const ofItem = moved.get(p.item) ?? [...(ws.postedOf(p.item) ?? [])];
    moved.set(p.item, [...ofItem, p]);
  }
  const then: Prepared = new Prepared(
    {
      ...ws.workspace,
      get posted() {
        return then.everyPosted;
      },
    },
    ws,
    { posted: moved },
  );
  return then;
}

/** Asks proofs together; where one of them cannot be asked any more, each by itself. */
function ask(ws: Prepared, proofs: readonly Proof[]): readonly ProofResult[] {
  try {
    const found = answer(new Prepared({ ...ws.workspace, proofs }, ws), { kind: 'proofs' }, { buildUp: false });
    return found.ok ? (found['proofs'] as readonly ProofResult[]) : [];
  } catch {
    return proofs.length === 1 ? [] : proofs.flatMap((p) => ask(ws, [p]));
  }
}

function shown(proof: Proof, day: string, result: ProofResult | undefined): ShownProof {
  return {
    id: proof.id,
    name: proof.name,
    day,
    expected: expectation(proof),
    holds: result?.holds ?? false,
    actual: result ? outcome(result) : 'it cannot be asked any more',
    firstDifference: result ? difference(result) : null,
  };
}

const expectation = ({ expect }: Proof): string =>
  [expect.price, expect.reason && `no price: ${expect.reason}`, expect.floor && `floor: ${expect.floor}`]
    .filter(Boolean)
    .join(', ');

const outcome = ({ actual, expected }: ProofResult): string =>
  [actual.price, actual.reason?.message, expected.floor && actual.floor && `floor: ${actual.floor}`]
    .filter(Boolean)
    .join(', ');

function difference({ firstDifference: d }: ProofResult): ShownProof['firstDifference'] {
  const said = (s: { kind: string; after: string } | null) => s && `${s.kind.replaceAll('_', ' ')} ${s.after}`;
  return d && { step: d.step + 1, expected: said(d.expected), actual: said(d.actual) };
}
