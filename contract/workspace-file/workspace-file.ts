import type { Question } from '#core/evaluator/questions.ts';
import type { Workspace } from '#core/workspace/types.ts';
import { type QuestionsFile, questionsFrom } from './questions-schema.ts';
import { type FileFault, type ReadFile, readShape } from './read-file.ts';
import { referenceFaults } from './references.ts';
import { FORMAT, VERSION, type WorkspaceFile, fromFile } from './schema.ts';
import { questionsShape, workspaceShape } from './shapes.ts';

const readFile = readShape<WorkspaceFile>(workspaceShape);
const readQuestionsFile = readShape<QuestionsFile>(questionsShape);

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
  if (!read.ok) return read;
  const faults = read.value.flatMap((q, i): FileFault[] => {
    if (q.kind !== 'goal') return [];
    const field = q.seek === 'markup' ? 'margin' : 'price';
    return q[field] ? [] : [{ path: `$[${i}].${field}`, value: null, expected: 'an exact decimal as text: the goal' }];
  });
  return faults.length > 0 ? { ok: false, faults } : { ok: true, value: questionsFrom(read.value) };
}
