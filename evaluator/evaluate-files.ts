import { readQuestions, readWorkspace } from '#contract/workspace-file/workspace-file.ts';
import type { FileFault } from '#contract/workspace-file/read-file.ts';
import { type AnswerOptions, answer, answered } from '#core/evaluator/answer.ts';
import { Prepared } from '#core/workspace/index.ts';

export interface Evaluated {
  /** 0: all answered; 1: a question has no answer or a proof fails; 2: the input cannot be used. */
  readonly code: 0 | 1 | 2;
  /** JSON text, one answer a line. */
  readonly answers: string | null;
  readonly errors: string | null;
}

/** Answers the questions of one file about the workspace of another; `read` gives a file's text. */
export function evaluateFiles(
  names: { readonly workspace: string; readonly questions: string },
  read: (name: string) => string,
  options: AnswerOptions,
): Evaluated {
  const unusable = (name: string, faults: readonly FileFault[]): Evaluated => ({
    code: 2,
    answers: null,
    errors: faults.map((f) => `${shown(name)}: ${f.path}: ${f.value ?? 'nothing'}: expected ${f.expected}\n`).join(''),
  });
  const texts: string[] = [];
  for (const name of [names.workspace, names.questions]) {
    try {
      texts.push(read(name));
    } catch (error) {
      return unusable(name, [
        { path: '$', value: null, expected: `a file that can be read (${(error as Error).message})` },
      ]);
    }
  }
  const workspace = readWorkspace(texts[0]!);
  if (!workspace.ok) return unusable(names.workspace, workspace.faults);
  const questions = readQuestions(texts[1]!);
  if (!questions.ok) return unusable(names.questions, questions.faults);
  const ws = new Prepared(workspace.value);
  const answers = questions.value.map((q) => answer(ws, q, options));
  return {
    code: answers.every(answered) ? 0 : 1,
    answers: `[\n${answers.map((a) => JSON.stringify(a)).join(',\n')}\n]\n`,
    errors: null,
  };
}

const shown = (name: string): string => (name === '-' ? 'standard input' : name);
