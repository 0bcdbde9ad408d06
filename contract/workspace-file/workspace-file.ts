import type { Question } from '#core/evaluator/questions.ts';
import type { Workspace } from '#core/workspace/workspace.ts';
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
  if (!read.ok) return { ok: false, faults: [...read.faults, ...faultsOfTheRest(read.misfit, read.faults)] };
  const workspace = asWorkspace(read.value);
  const faults = referenceFaults(workspace);
  return faults.length > 0 ? { ok: false, faults } : { ok: true, value: workspace };
}

function asWorkspace(file: WorkspaceFile): Workspace {
  const { $schema: _schema, format: _format, version: _version, ...rest } = file;
  // rows without a number of their own count in the order in which they stand
  const numbered = <T extends { entry?: number }>(rows: T[]) =>
    rows.map((row, i) => ({ ...row, entry: row.entry ?? i + 1 }));
  return fromFile({ ...rest, costs: numbered(rest.costs), posted: numbered(rest.posted) });
}

/** What else is wrong, in the rows that are well formed: so that all of it is told at once. */
function faultsOfTheRest(misfit: unknown, known: readonly FileFault[]): FileFault[] {
  const rows = known.map((f) => /^\$\.(\w+)\[(\d+)\]/.exec(f.path));
  if (typeof misfit !== 'object' || misfit === null || rows.some((r) => r === null)) return [];
  const wrong = new Map<string, Set<number>>();
  for (const [, member = '', at] of rows as RegExpExecArray[])
    wrong.set(member, (wrong.get(member) ?? new Set<number>()).add(Number(at)));
  const file = misfit as Record<string, readonly { id?: unknown }[]>;
  // where a row stood before those that do not fit were left out
  const stood = new Map<string, number[]>();
  const left = new Set<unknown>();
  const sound: Record<string, unknown> = { ...file };
  for (const [member, at] of wrong) {
    const kept = file[member]!.flatMap((row, i) => (at.has(i) ? [] : [[row, i] as const]));
    for (const i of at) left.add(JSON.stringify(file[member]![i]?.id));
    sound[member] = kept.map(([row]) => row);
    stood.set(
      member,
      kept.map(([, i]) => i),
    );
  }
  return (
    referenceFaults(asWorkspace(sound as unknown as WorkspaceFile))
      // a row that is there but does not fit is not missed
      .filter((f) => !left.has(f.value))
      .map((f) => ({
        ...f,
        path: f.path.replace(/^\$\.(\w+)\[(\d+)\]/, (whole, member: string, at: string) => {
          const before = stood.get(member)?.[Number(at)];
          return before === undefined ? whole : `$.${member}[${before}]`;
        }),
      }))
  );
}

/** Writes a workspace as the file of the present version; reading it again gives the same workspace. */
export function writeWorkspace(workspace: Workspace): string {
  const posted = [...workspace.posted];
  return `${JSON.stringify({ format: FORMAT, version: VERSION, ...workspace, posted }, null, 1)}\n`;
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
