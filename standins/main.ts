import { parseArgs } from 'node:util';
import { SUPPLIERS } from '#demo/brannholm.ts';
import { demoItems } from '#demo/items.ts';
import { supplierService } from './supplier-service.ts';

/** Serves the demo's suppliers on loopback: `--port N`. It ends with the program that started it. */
const { values } = parseArgs({ options: { port: { type: 'string', default: '8081' } } });
const DAY_MS = 86_400_000;
/** How many days the simulated day is ahead. */
let ahead = 0;
const items = demoItems();
const server = supplierService({
  suppliers: SUPPLIERS.map(({ key, name, currency }) => ({
    key,
    name,
    currency,
    items: items.filter((i) => i.supplier === key),
  })),
  today: () => new Date(Date.now() + ahead * DAY_MS).toISOString().slice(0, 10),
  letPass: (days) => (ahead += days),
});
server.on('error', (error: NodeJS.ErrnoException) => {
  // the application goes on without it and says that the suppliers cannot be reached
  console.error(`The stand-ins of suppliers do not answer: ${error.code ?? error.message}`);
  process.exit(1);
});
server.listen(Number(values.port), '127.0.0.1');
for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, () => process.exit(0));
