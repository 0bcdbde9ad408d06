import { benchApplication } from './application.bench.ts';
import { benchBrowser } from './browser.bench.ts';
import { benchBulk } from './bulk.bench.ts';
import { benchExplained } from './explained.bench.ts';
import { benchWorkers } from './workers.bench.ts';
import { benchPipeline } from './pipeline.bench.ts';
import { benchIntake } from './intake.bench.ts';
import { benchPriceChecks } from './price-checks.bench.ts';
import { benchPosting } from './posting.bench.ts';
import { benchScreens } from './screens.bench.ts';

// Ratios within one run; figures per second are of this machine only. A name as argument runs that part alone.
const parts: Readonly<Record<string, () => void | Promise<void>>> = {
  explained: benchExplained,
  bulk: benchBulk,
  workers: benchWorkers,
  browser: benchBrowser,
  pipeline: benchPipeline,
  posting: benchPosting,
  intake: benchIntake,
  application: benchApplication,
  'price-checks': benchPriceChecks,
  screens: benchScreens,
};
const asked = process.argv.slice(2);
for (const [name, run] of Object.entries(parts)) if (asked.length === 0 || asked.includes(name)) await run();
