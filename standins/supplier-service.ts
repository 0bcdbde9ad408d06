import { type Server, createServer } from 'node:http';
import { setTimeout } from 'node:timers/promises';
import express, { type Response } from 'express';
import { countryOfAddress } from './countries.ts';
import { quotedRates } from './rates.ts';
import { type Mood, fate, moodAt } from './supplier-moods.ts';

/** An item as a supplier lists it: the cost is that of the first day, per cost pack, in the supplier's currency. */
export interface Listed {
  readonly code: string;
  readonly name: string;
  readonly brand: string;
  readonly unit: string;
  readonly packUnits: string;
  readonly cost: number;
}

export interface StandInSupplier {
  readonly key: string;
  readonly name: string;
  readonly currency: string;
  readonly items: readonly Listed[];
}

export interface StandIn {
  readonly suppliers: readonly StandInSupplier[];
  /** The day it is: the simulated one. */
  readonly today: () => string;
  /** Lets so many days go by; absent: they go by as they do. */
  readonly letPass?: (days: number) => void;
  /** How it answers; absent: well mostly, and badly now and then. */
  readonly mood?: (supplier: string) => Mood;
  /** How long a slow answer takes, in milliseconds. */
  readonly slowMs?: number;
}

/** So many days may go by at once. */
const MOST_DAYS = 366;
const ACCOUNT = /^[A-Z]{2}-\d{3,8}$/;

/** Per cent off an account's costs: each has its own. */
const termsOf = (supplier: string, account: string): number => Math.floor(fate('terms', supplier, account) * 9) / 2;

const DAY_MS = 86_400_000;

/** The Monday of a day's week: a supplier's list is of a week. */
function weekOf(day: string): string {
  const at = new Date(`${day}T00:00:00Z`);
  return new Date(at.getTime() - ((at.getUTCDay() + 6) % 7) * DAY_MS).toISOString().slice(0, 10);
}

/** One item in seven is cheaper where more cost packs of it are ordered at once. */
export function quantityPricesOf(supplier: string, item: Listed, cost: string): { from: string; cost: string }[] {
  if (fate('more', supplier, item.code) > 1 / 7) return [];
  return [
    { from: '5', cost: (Number(cost) * 0.97).toFixed(2) },
    { from: '20', cost: (Number(cost) * 0.94).toFixed(2) },
  ];
}

/** What an account pays on a day: one item in three changes at the beginning of a month. */
export function costOf(supplier: string, item: Listed, account: string, day: string): { cost: string; from: string } {
  let { cost } = item;
  const [year, month] = day.split('-').map(Number) as [number, number];
  for (let m = 2025 * 12; m < year * 12 + month; m++) {
    const first = `${Math.floor(m / 12)}-${String((m % 12) + 1).padStart(2, '0')}-01`;
    if (fate('moves', supplier, item.code, first) > 0.33) continue;
    cost *= 1 + (fate('by', supplier, item.code, first) - 0.35) * 0.06;
  }
  return { cost: (cost * (1 - termsOf(supplier, account) / 100)).toFixed(2), from: weekOf(day) };
}

/** A small supplier service: catalogues with brands, costs by account and day, and times at which it does not do well. */
export function supplierService({
  suppliers,
  today,
  letPass,
  mood = (supplier) => moodAt(supplier, new Date()),
  slowMs = 20_000,
}: StandIn): Server {
  const app = express();
  app.disable('x-powered-by');
  const answer = async (response: Response, supplier: string, body: unknown): Promise<void> => {
    const text = JSON.stringify(body);
    const how = mood(supplier);
    if (how === 'down') return void response.status(503).type('text').send('closed for stock-taking');
    if (how === 'rubbish') return void response.type('html').send('<h1>Welcome to our new web shop</h1>');
    if (how === 'half') {
      response.type('json').set('content-length', String(Buffer.byteLength(text)));
      response.write(text.slice(0, text.length / 2));
      return void response.destroy();
    }
    if (how === 'slow') await setTimeout(slowMs);
    response.type('json').send(text);
  };
  const find = (key: string, account: unknown, response: Response): StandInSupplier | null => {
    const found = suppliers.find((s) => s.key === key);
    if (!found) response.status(404).json({ error: 'no such supplier' });
    else if (typeof account !== 'string' || !ACCOUNT.test(account))
      response.status(401).json({ error: 'no such account' });
    else return found;
    return null;
  };
  // rates are public: no account
  app.get('/rates', async (request, response) => {
    const { from } = request.query;
    if (typeof from !== 'string' || !/^\d{4}-\d{2}-\d{2}$/.test(from))
      return void response.status(400).json({ error: 'from which day?' });
    await answer(response, 'rates', { rates: quotedRates(from, today()) });
  });
  app.get('/country', async (request, response) => {
    const { address } = request.query;
    if (typeof address !== 'string') return void response.status(400).json({ error: 'of which address?' });
    await answer(response, 'countries', { country: countryOfAddress(address) });
  });
  app.get('/day', (_, response) => void response.json({ day: today() }));
  app.post('/day', (request, response) => {
    const days = Number(request.query['on']);
    if (!letPass || !Number.isInteger(days) || days < 1 || days > MOST_DAYS)
      return void response.status(400).json({ error: `on by how many days, 1 to ${MOST_DAYS}?` });
    letPass(days);
    response.json({ day: today() });
  });
  app.get('/:supplier/catalogue', async (request, response) => {
    const supplier = find(request.params.supplier, request.query['account'], response);
    if (!supplier) return;
    const { name, currency, items } = supplier;
    const listed = items.map(({ code, name, brand, unit, packUnits }) => ({ code, name, brand, unit, packUnits }));
    await answer(response, supplier.key, { supplier: name, currency, items: listed });
  });
  app.get('/:supplier/costs', async (request, response) => {
    const { account } = request.query;
    const supplier = find(request.params.supplier, account, response);
    if (!supplier) return;
    const day = today();
    const costs = supplier.items.map((i) => {
      const { cost, from } = costOf(supplier.key, i, String(account), day);
      const quantityPrices = quantityPricesOf(supplier.key, i, cost);
      const { code, name, brand, packUnits } = i;
      return { code, name, brand, packUnits, cost, from, ...(quantityPrices.length > 0 ? { quantityPrices } : {}) };
    });
    await answer(response, supplier.key, { day, currency: supplier.currency, costs });
  });
  return createServer(app);
}
