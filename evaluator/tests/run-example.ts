import type { Question } from '#core/evaluator/questions.ts';
import { type Answer, answer } from '#core/evaluator/answer.ts';
import { Prepared } from '#core/workspace/prepared.ts';
import type { Workspace } from '#core/workspace/workspace.ts';
import { readQuestions, readWorkspace } from '#contract/workspace-file/workspace-file.ts';

/** A file of worked examples: a workspace, and questions with what must be in their answers. */
export interface ExampleFile {
  readonly about: string;
  readonly workspace: Readonly<Record<string, unknown>>;
  readonly cases: readonly ExampleCase[];
}

export interface ExampleCase {
  readonly name: string;
  /** Collections that differ from the file's workspace in this case. */
  readonly workspace?: Readonly<Record<string, unknown>>;
  readonly question: Record<string, unknown>;
  readonly expect: Record<string, unknown>;
  /** Fields that the answer must not have. */
  readonly absent?: readonly string[];
}

export interface RanExample {
  readonly workspace: Workspace;
  readonly question: Question;
  readonly answer: Answer;
}

const START = { format: 'hard-ledger workspace', version: 1, currency: 'EUR' };

export function runExample(file: ExampleFile, example: ExampleCase): RanExample {
  const workspace = readWorkspace(JSON.stringify({ ...START, ...file.workspace, ...example.workspace }));
  if (!workspace.ok) throw new Error(JSON.stringify(workspace.faults[0]));
  const questions = readQuestions(JSON.stringify([example.question]));
  if (!questions.ok) throw new Error(JSON.stringify(questions.faults[0]));
  const question = questions.value[0]!;
  return {
    workspace: workspace.value,
    question,
    answer: answer(new Prepared(workspace.value), question, { buildUp: true }),
  };
}
