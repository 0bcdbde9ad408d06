import type { Found } from '../evaluator/answer-price.ts';
import type { ProvableQuestion } from '../evaluator/questions.ts';
import { type ReasonAnswer, reasonAnswer } from '../evaluator/wording.ts';
import { dec } from '../numbers/decimal.ts';
import type { Outcome } from '../reasons.ts';
import type { Prepared } from '../workspace/prepared.ts';
import type { KnownStep, Proof } from './proof.ts';

export interface Difference {
  /** Counted from 0. */
  readonly step: number;
  readonly expected: KnownStep | null;
  readonly actual: KnownStep | null;
}

export interface ProofResult {
  readonly id: string;
  readonly name: string;
  readonly holds: boolean;
  readonly expected: Proof['expect'];
  readonly actual: { readonly price?: string; readonly floor?: string; readonly reason?: ReasonAnswer };
  /** Of a failing proof: where its build-up first leaves the known-good one; null: nowhere, or none is kept. */
  readonly firstDifference: Difference | null;
}

/** Runs all proofs of a workspace; `evaluate` answers one question. */
export function runProofs(
  ws: Prepared,
  evaluate: (q: ProvableQuestion) => Outcome<Found>,
): { readonly passed: number; readonly failed: number; readonly proofs: readonly ProofResult[] } {
  const proofs = ws.workspace.proofs.map((proof) => runProof(proof, evaluate(proof.question)));
  const passed = proofs.filter((p) => p.holds).length;
  return { passed, failed: proofs.length - passed, proofs };
}

function runProof(proof: Proof, found: Outcome<Found>): ProofResult {
  const { expect } = proof;
  const head = { id: proof.id, name: proof.name, expected: expect };
  if (!found.ok) {
    const holds = expect.reason === found.reason.code;
    return { ...head, holds, actual: { reason: reasonAnswer(found.reason) }, firstDifference: null };
  }
  const { price, floor, steps } = found.value;
  const holds =
    !expect.reason && (!expect.price || dec(expect.price).eq(price)) && (!expect.floor || expect.floor === floor);
  const known = proof.good ?? null;
  return {
    ...head,
    holds,
    actual: { price, floor },
    firstDifference: holds || !known ? null : firstDifference(known, steps),
  };
}

function firstDifference(known: readonly KnownStep[], steps: readonly KnownStep[]): Difference | null {
  const brief = (s: KnownStep | undefined): KnownStep | null => (s ? { kind: s.kind, after: s.after } : null);
  for (let i = 0; i < Math.max(known.length, steps.length); i++) {
    const [was, is] = [known[i], steps[i]];
    if (was?.kind !== is?.kind || was?.after !== is?.after) return { step: i, expected: brief(was), actual: brief(is) };
  }
  return null;
}
