import { revisionOf } from '../ledger/audit.ts';
import { route } from '../platform/http/route.ts';
import { findingRoutes as declared } from '#contract/api/findings.ts';
import { runKeptProofs } from './proofs.ts';
import { today } from '../workspace/asked-day.ts';

export const findingRoutes = [
  route(declared.all, async ({ context }) => context.check.look(await revisionOf(context.db), await today(context))),
  route(declared.proofs, ({ context }) => runKeptProofs(context.db)),
];
