import { benchBulk } from './bulk.bench.ts';
import { benchExplained } from './explained.bench.ts';

// Ratios within one run; figures per second are of this machine only. A name as argument runs that part alone.
const parts: Readonly<Record<string, () => void>> = { explained: benchExplained, bulk: benchBulk };
const asked = process.argv.slice(2);
for (const [name, run] of Object.entries(parts)) if (asked.length === 0 || asked.includes(name)) run();
