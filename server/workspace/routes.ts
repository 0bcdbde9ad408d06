import { workspaceRoutes as declared } from '#contract/api/workspace.ts';
import { compareWorkspaces } from '#contract/workspace-file/compare.ts';
import { readWorkspace, writeWorkspace } from '#contract/workspace-file/workspace-file.ts';
import { route } from '../platform/http/route.ts';
import { askedDay } from './asked-day.ts';
import { workspaceOn } from './load-workspace.ts';

export const workspaceRoutes = [
  route(declared.file, async ({ context, query, response }) => {
    const { ws, day } = await workspaceOn(context.db, await askedDay(context, query));
    response
      .type('application/json')
      .set('content-disposition', `attachment; filename="workspace-${day}.json"`)
      .send(writeWorkspace(ws.workspace));
    return undefined;
  }),
  // nothing is kept: a file is looked at
  route(declared.compare, async ({ context, query, body }) => {
    const { ws, day } = await workspaceOn(context.db, await askedDay(context, query));
    const read = readWorkspace(Buffer.isBuffer(body) ? body.toString('utf8') : '');
    return read.ok
      ? { day, faults: [], members: compareWorkspaces(ws.workspace, read.value) }
      : { day, faults: read.faults.map(({ path, expected }) => ({ path, expected })), members: [] };
  }),
];
