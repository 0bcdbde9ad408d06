import { workspaceRoutes as declared } from '#contract/api/workspace.ts';
import { compareWorkspaces } from '#contract/workspace-file/compare.ts';
import { readWorkspace, writeWorkspace } from '#contract/workspace-file/workspace-file.ts';
import type { ReplicaStanding } from '#contract/replica.ts';
import type { Workspace } from '#core/workspace/workspace.ts';
import { RIGHT_NAMES } from '#contract/people.ts';
import { refused } from '../platform/refused.ts';
import { route } from '../platform/http/route.ts';
import { stateAsked } from './asked-day.ts';
import type { SignedIn } from '../platform/http/signed-in.ts';

/** A file holds every cost: whoever may change rules alone, such as a program with a key for that, does not read it. */
function seesCosts({ rights }: SignedIn): void {
  if (!rights.has('see_cost')) throw refused('right_missing', { right: RIGHT_NAMES.see_cost });
}

/** In the order in which they are read anew: the same state is the same file, however it came about. */
const inOrder = (workspace: Workspace): Workspace => ({
  ...workspace,
  posted: [...workspace.posted].sort(
    (a, b) => Number(a.list) - Number(b.list) || Number(a.item) - Number(b.item) || Number(a.pack) - Number(b.pack),
  ),
});

const NO_REPLICA: ReplicaStanding = { state: 'none', secondsBehind: null };

export const workspaceRoutes = [
  route(declared.replica, ({ context }) => context.replica?.standing() ?? Promise.resolve(NO_REPLICA)),
  route(declared.file, async ({ context, person, query, response }) => {
    seesCosts(person);
    const { ws, day } = await stateAsked(context, query);
    response
      .type('application/json')
      .set('content-disposition', `attachment; filename="workspace-${day}.json"`)
      .send(writeWorkspace(inOrder(ws.workspace)));
    return undefined;
  }),
  // nothing is kept: a file is looked at
  route(declared.compare, async ({ context, person, query, body }) => {
    seesCosts(person);
    const { ws, day } = await stateAsked(context, query);
    const read = readWorkspace(Buffer.isBuffer(body) ? body.toString('utf8') : '');
    return read.ok
      ? { day, faults: [], members: compareWorkspaces(inOrder(ws.workspace), read.value) }
      : { day, faults: read.faults.map(({ path, expected }) => ({ path, expected })), members: [] };
  }),
];
