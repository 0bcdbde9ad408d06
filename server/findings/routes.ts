import { revisionOf } from '../ledger/audit.ts';
import { route } from '../platform/http/route.ts';
import { today } from '../workspace/asked-day.ts';

export const findingRoutes = [
  route({
    method: 'get',
    path: '/findings',
    right: 'see_cost',
    handle: async ({ context }) => context.check.look(await revisionOf(context.db), await today(context)),
  }),
];
