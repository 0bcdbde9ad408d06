import type { ShownFinding } from '#contract/findings.ts';
import { checkWorkspace } from '#core/checks/check.ts';
import { openDatabase } from '../platform/database.ts';
import { workspaceOn } from '../workspace/load-workspace.ts';
import { shown } from './places.ts';

export interface CheckAsked {
  readonly url: string;
  readonly day: string;
}
export interface Checked {
  readonly revision: string;
  readonly findings: ShownFinding[];
}

/** Reads one state and checks all of it; runs in a thread of its own. */
export default async function runCheck({ url, day }: CheckAsked): Promise<Checked> {
  const database = openDatabase(url);
  try {
    const { ws, revision } = await workspaceOn(database.db, day);
    return { revision, findings: checkWorkspace(ws, day).map((f) => shown(ws, f)) };
  } finally {
    await database.close();
  }
}
