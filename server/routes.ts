import { connectionRoutes } from './connections/routes.ts';
import { costRoutes } from './costs/routes.ts';
import { findingRoutes } from './findings/routes.ts';
import { itemRoutes } from './items/routes.ts';
import { ledgerRoutes } from './ledger/routes.ts';
import { listRoutes } from './lists/routes.ts';
import { ownRoutes } from './people/own-routes.ts';
import { describes } from './platform/http/describes.ts';
import type { Route } from './platform/http/route.ts';
import { quoteRoutes } from './quotes/routes.ts';
import { rateRoutes } from './rates/routes.ts';
import { recipeRegister } from './recipes/register.ts';
import { recipeRoutes } from './recipes/routes.ts';
import { ladderRegister } from './rounding/register.ts';
import { foundRoutes } from './records/routes.ts';
import { groupRoutes } from './setup/copy-group.ts';
import { registers } from './setup/registers.ts';
import { toComeRoutes } from './to-come/routes.ts';
import { secondPersonRoutes } from './second-person/routes.ts';
import { todayRoutes } from './today/routes.ts';
import { workspaceRoutes } from './workspace/routes.ts';
import { worksheetRoutes } from './worksheets/routes.ts';
import { registerRoutes } from './setup/register-routes.ts';

const asked: readonly Route[] = [
  // asked most often: found first
  ...quoteRoutes,
  ...ownRoutes,
  ...todayRoutes,
  ...toComeRoutes,
  ...itemRoutes,
  ...costRoutes,
  ...connectionRoutes,
  ...rateRoutes,
  ...listRoutes,
  ...ledgerRoutes,
  ...secondPersonRoutes,
  ...worksheetRoutes,
  ...findingRoutes,
  ...workspaceRoutes,
  ...groupRoutes,
  ...foundRoutes,
  ...recipeRoutes,
  ...registerRoutes(recipeRegister),
  ...registerRoutes(ladderRegister),
  ...registers.flatMap((r) => registerRoutes(r)),
];

/** Every address of the API but the session's: tests walk this list. */
export const routes: readonly Route[] = [...asked, describes(asked)];
