import type { FindingsOfChange, ShownFinding } from '#contract/findings.ts';
import { checkWorkspace } from '#core/checks/check.ts';
import type { Finding } from '#core/checks/finding.ts';
import { Prepared, type Workspace } from '#core/workspace/index.ts';
import { revisionOf } from '../ledger/audit.ts';
import { openDatabase } from '../platform/database.ts';
import { type ListCounts, countList } from '../lists/count-list.ts';
import { type Loaded, workspaceOn } from '../workspace/state.ts';
import { runKeptProofs } from './proofs.ts';
import { shown } from './places.ts';

export interface CheckAsked {
  readonly url: string;
  readonly day: string;
  /** The rules as they would be: what that adds and settles is asked for, not what stands. */
  readonly rules?: Workspace;
}
export interface Checked {
  readonly revision: string;
  readonly findings: ShownFinding[];
  /** Lists with a recipe that are in use. */
  readonly lists: readonly ListCounts[];
  /** How many proofs no longer hold. */
  readonly failing: number;
  readonly ofChange: FindingsOfChange | null;
}

/** What this thread looked at last: a form asks again after every pause in typing. */
let last: { url: string; day: string; loaded: Loaded; found: readonly Finding[] } | null = null;

/** Which finding it is, whatever its example says. */
const nameOf = (f: Finding) => `${f.code} ${f.places.join()}`;

/** Reads one state and checks all of it; runs in a thread of its own. */
export default async function runCheck({ url, day, rules }: CheckAsked): Promise<Checked> {
  const database = openDatabase(url);
  try {
    const revision = await revisionOf(database.db);
    if (last?.url !== url || last.day !== day || last.loaded.revision !== revision) {
      const loaded = await workspaceOn(database.db, day);
      last = { url, day, loaded, found: checkWorkspace(loaded.ws, day) };
    }
    const { loaded, found } = last;
    const findings = found.map((f) => shown(loaded.ws, f));
    if (!rules) {
      const lists: ListCounts[] = [];
      for (const list of loaded.ws.workspace.lists.filter((l) => l.active && l.recipe))
        lists.push(await countList(loaded, list));
      const failing = (await runKeptProofs(database.db)).filter((p) => !p.holds).length;
      return { revision: loaded.revision, findings, lists, failing, ofChange: null };
    }
    const { items, costs, posted } = loaded.ws.workspace;
    const then = new Prepared({ ...rules, items, costs, posted });
    const after = checkWorkspace(then, day);
    const [before, next] = [new Set(found.map(nameOf)), new Set(after.map(nameOf))];
    return {
      revision: loaded.revision,
      findings: [],
      lists: [],
      failing: 0,
      ofChange: {
        adds: after.filter((f) => !before.has(nameOf(f))).map((f) => shown(then, f)),
        settles: found.filter((f) => !next.has(nameOf(f))).map((f) => shown(loaded.ws, f)),
      },
    };
  } finally {
    await database.close();
  }
}
