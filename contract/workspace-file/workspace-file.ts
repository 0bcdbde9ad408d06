import type { Question } from '#core/evaluator/questions.ts';
import type { Workspace } from '#core/workspace/types.ts';
import { type QuestionsFile, questionsFrom, questionsSchema } from './questions-schema.ts';
import { type ReadFile, readShape } from './read-file.ts';
import { referenceFaults } from './references.ts';
import { FORMAT, VERSION, type WorkspaceFile, fromFile, workspaceSchema } from './schema.ts';

const readFile = readShape<WorkspaceFile>(workspaceSchema);
const readQuestionsFile = readShape<QuestionsFile>(questionsSchema);

/** Reads a workspace file; refuses unknown fields and versions, ids twice and references to nothing. docs/workspace-file.md. */
export function readWorkspace(text: string): ReadFile<Workspace> {
  const read = readFile(text);
  if (!read.ok) return read;
  const { $schema: _schema, format: _format, version: _version, ...rest } = read.value;
  // rows without a number of their own count in the order in which they stand
  const numbered = <T extends { entry?: number }>(rows: T[]) =>
    rows.map((row, i) => ({ ...row, entry: row.entry ?? i + 1 }));
  const workspace = fromFile({ ...rest, costs: numbered(rest.costs), posted: numbered(rest.posted) });
  const faults = referenceFaults(workspace);
  return faults.length > 0 ? { ok: false, faults } : { ok: true, value: workspace };
}

/** Writes a workspace as the file of the present version; reading it again gives the same workspace. */
export function writeWorkspace(workspace: Workspace): string {
  return `${JSON.stringify({ format: FORMAT, version: VERSION, ...workspace }, null, 1)}\n`;
}

/** Reads a questions file: a list of questions. docs/evaluator.md. */
export function readQuestions(text: string): ReadFile<readonly Question[]> {
  const read = readQuestionsFile(text);
  return read.ok ? { ok: true, value: questionsFrom(read.value) } : read;
}
