import { readQuestions, readWorkspace } from '#contract/workspace-file/workspace-file.ts';
import type { FileFault } from '#contract/workspace-file/read-file.ts';
import { type AnswerOptions, answer, answered } from '#core/evaluator/answer.ts';
import { compareAnswers } from '#core/evaluator/compare.ts';
import { listPrices, pricedLists } from '#core/evaluator/list-prices.ts';
import type { PricesAsked, Question } from '#core/evaluator/questions.ts';
import { Prepared } from '#core/workspace/prepared.ts';

export interface FileNames {
  readonly workspace: string;
  readonly questions: string;
  /** Another workspace: the answers are then where it differs from the first. */
  readonly against?: string | undefined;
}

/** 0: all answered; 1: a question has no answer or a proof fails; 2: the input cannot be used. */
export type ExitCode = 0 | 1 | 2;

/** Why the files cannot be used, or the answers in pieces of JSON text as they are found; the last one returns the code. */
export type Evaluation =
  { readonly ok: false; readonly errors: string } | { readonly ok: true; readonly pieces: Generator<string, ExitCode> };

/** Answers the questions of one file about the workspace of another; `read` gives a file's text. */
export function evaluate(names: FileNames, read: (name: string) => string, options: AnswerOptions): Evaluation {
  const errors: string[] = [];
  const use = <T>(
    name: string,
    parse: (text: string) => { ok: true; value: T } | { ok: false; faults: readonly FileFault[] },
  ): T | null => {
    const found = parseFile(name, read, parse);
    if (found.ok) return found.value;
    errors.push(
      ...found.faults.map((f) => `${shown(name)}: ${f.path}: ${f.value ?? 'nothing'}: expected ${f.expected}\n`),
    );
    return null;
  };
  const workspace = use(names.workspace, readWorkspace);
  const other = workspace && names.against !== undefined ? use(names.against, readWorkspace) : null;
  const questions = errors.length === 0 ? use(names.questions, readQuestions) : null;
  if (!workspace || !questions || errors.length > 0) return { ok: false, errors: errors.join('') };
  const ws = new Prepared(workspace);
  return {
    ok: true,
    pieces: other
      ? written(questions.map((q) => comparison(ws, new Prepared(other), q)))
      : written(questions.map((q) => answerPieces(ws, q, options))),
  };
}

function parseFile<T>(
  name: string,
  read: (name: string) => string,
  parse: (text: string) => { ok: true; value: T } | { ok: false; faults: readonly FileFault[] },
): { ok: true; value: T } | { ok: false; faults: readonly FileFault[] } {
  let text: string;
  try {
    text = read(name);
  } catch (error) {
    const expected = `a file that can be read (${(error as Error).message})`;
    return { ok: false, faults: [{ path: '$', value: null, expected }] };
  }
  return parse(text);
}

type Pieces = Generator<string, boolean>;

/** A list of answers, one a line; none is kept once it is written. */
function* written(answers: readonly Pieces[]): Generator<string, ExitCode> {
  let code: ExitCode = 0;
  yield '[\n';
  for (const [i, pieces] of answers.entries()) {
    if (i > 0) yield ',\n';
    if (!(yield* pieces)) code = 1;
  }
  yield '\n]\n';
  return code;
}

function* answerPieces(ws: Prepared, q: Question, options: AnswerOptions): Pieces {
  if (q.kind === 'prices' && !options.buildUp) return yield* rowPieces(ws, q);
  const found = answer(ws, q, options);
  yield JSON.stringify(found);
  return answered(found);
}

/** Rows that go out together: large enough to be quick, small enough to be nothing. */
const TOGETHER = 500;

/** A whole list at a time would be a text too long to hold: the rows go out as they are priced. */
function* rowPieces(ws: Prepared, q: PricesAsked): Pieces {
  const lists = pricedLists(ws, q);
  if (!lists.ok) {
    yield JSON.stringify(answer(ws, q, { buildUp: false }));
    return false;
  }
  const head = JSON.stringify({ ...(q.id === undefined ? {} : { id: q.id }), kind: q.kind, ok: true, day: q.day });
  yield `${head.slice(0, -1)},"rows":[`;
  let [rows, first] = [[] as string[], true];
  for (const row of listPrices(ws, lists.value, q)) {
    rows.push(JSON.stringify(row));
    if (rows.length < TOGETHER) continue;
    yield (first ? '' : ',') + rows.join(',');
    [rows, first] = [[], false];
  }
  if (rows.length > 0) yield (first ? '' : ',') + rows.join(',');
  yield ']}';
  return true;
}

function* comparison(before: Prepared, after: Prepared, q: Question): Pieces {
  yield JSON.stringify(compareAnswers(before, after, q));
  return true;
}

export interface Evaluated {
  readonly code: ExitCode;
  /** JSON text, one answer a line. */
  readonly answers: string | null;
  readonly errors: string | null;
}

/** The same, with all answers held together. */
export function evaluateFiles(names: FileNames, read: (name: string) => string, options: AnswerOptions): Evaluated {
  const found = evaluate(names, read, options);
  if (!found.ok) return { code: 2, answers: null, errors: found.errors };
  const texts: string[] = [];
  for (;;) {
    const next = found.pieces.next();
    if (next.done) return { code: next.value, answers: texts.join(''), errors: null };
    texts.push(next.value);
  }
}

const shown = (name: string): string => (name === '-' ? 'standard input' : name);
