import { type Problem, type ProblemCode, problem, problemFromReason } from '#contract/problems.ts';
import type { Reason } from '#core/reasons.ts';

/** Thrown by an operation that is refused; the error handler answers with the problem. Undoes the transaction it is thrown in. */
export class Refused extends Error {
  constructor(readonly problem: Problem) {
    super(problem.message);
    this.name = 'Refused';
  }
}

export function refused(
  code: ProblemCode,
  params: Record<string, string> = {},
  more: Pick<Problem, 'faults' | 'current'> = {},
): Refused {
  return new Refused(problem(code, params, more));
}

export function refusedFor(reason: Reason): Refused {
  return new Refused(problemFromReason(reason));
}

/** What is wrong in one field of what was sent. `path`: such as "rows[2].value". */
export const wrongField = (path: string, message: string): Refused =>
  refused('fields_wrong', {}, { faults: [{ path, message }] });
