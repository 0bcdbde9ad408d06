import { Ajv, type ValidateFunction } from 'ajv';
import Papa from 'papaparse';
import type { SupplierCatalogue } from '#contract/connections.ts';
import { harmless } from '#contract/harmless.ts';

/** What went wrong with a supplier's service, in words for whoever connected it. */
export class SupplierTrouble extends Error {}

/** A question to a supplier's service, with what is wanted of its answer. */
export type AskedOfAnswer =
  { readonly what: 'costs'; readonly brands: readonly string[] } | { readonly what: 'catalogue' };

interface Cost {
  readonly code: string;
  readonly name: string;
  readonly brand: string;
  readonly packUnits: string;
  readonly cost: string;
  readonly from: string;
  /** What more cost packs at once cost. */
  readonly quantityPrices?: readonly { readonly from: string; readonly cost: string }[];
}

const MOST_ROWS = 500_000;
const word = { type: 'string', minLength: 1, maxLength: 300 };
const decimal = { type: 'string', pattern: '^-?\\d{1,20}(\\.\\d{1,15})?$' };
const above = { type: 'string', pattern: '^(?=.*[1-9])\\d{1,20}(\\.\\d{1,15})?$' };
const shape = (properties: object, optional: readonly string[] = []) => ({
  type: 'object',
  properties,
  required: Object.keys(properties).filter((name) => !optional.includes(name)),
});

// answers hold rows by the hundred thousand: compiled, a million of them are looked at in the time of a few thousand
const ajv = new Ajv({ allErrors: false });
const COSTS = ajv.compile<{ currency: string; costs: Cost[] }>(
  shape({
    currency: word,
    costs: {
      type: 'array',
      maxItems: MOST_ROWS,
      items: shape(
        {
          ...{ code: word, name: word, brand: word, packUnits: decimal, cost: decimal, from: word },
          quantityPrices: { type: 'array', maxItems: 20, items: shape({ from: above, cost: decimal }) },
        },
        ['quantityPrices'],
      ),
    },
  }),
);
const CATALOGUE = ajv.compile<{ supplier: string; currency: string; items: Pick<Cost, 'code' | 'name' | 'brand'>[] }>(
  shape({
    supplier: word,
    currency: word,
    items: { type: 'array', maxItems: MOST_ROWS, items: shape({ code: word, name: word, brand: word }) },
  }),
);

/** How many items of a brand are named. */
const NAMED = 5;

function read<T>(text: string, validate: ValidateFunction<T>): T {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    throw new SupplierTrouble('Its answer cannot be read: it is no list of costs.');
  }
  if (validate(value)) return value;
  const [error] = validate.errors ?? [];
  const where = (error?.instancePath ?? '').slice(1).replaceAll('/', ', ') || 'the answer';
  throw new SupplierTrouble(`Its answer is no list of costs: ${where} ${error?.message ?? 'does not fit'}.`);
}

/** A file as a supplier would send it: it waits like any other, and can be looked at as one. Null: it has nothing of these brands. */
function costsFile(text: string, brands: readonly string[]): Uint8Array | null {
  const { currency, costs } = read(text, COSTS);
  const followed = costs.filter((c) => brands.length === 0 || brands.includes(c.brand));
  if (followed.length === 0) return null;
  const rows = followed.flatMap((c) =>
    [{ from: '', cost: c.cost }, ...(c.quantityPrices ?? [])].map((q) =>
      [c.code, c.name, c.brand, q.cost, q.from, c.packUnits, currency, c.from].map(harmless),
    ),
  );
  const head = ['Code', 'Name', 'Brand', 'Cost', 'From quantity', 'Pack size', 'Currency', 'Valid from'];
  return Buffer.from(`${Papa.unparse([head, ...rows], { newline: '\r\n' })}\r\n`);
}

function catalogue(text: string): SupplierCatalogue {
  const { supplier, currency, items } = read(text, CATALOGUE);
  const byBrand = new Map<string, { code: string; name: string; brand: string }[]>();
  for (const { code, name, brand } of items) {
    const others = byBrand.get(brand);
    if (others) others.push({ code, name, brand });
    else byBrand.set(brand, [{ code, name, brand }]);
  }
  return {
    supplier,
    currency,
    brands: [...byBrand].map(([name, of]) => ({ name, items: of.length })),
    items: [...byBrand.values()].flatMap((of) => of.slice(0, NAMED)),
  };
}

/** What is made of an answer: a file of costs (null: nothing of the brands), or what a catalogue holds. Throws SupplierTrouble. */
export const ofAnswer = (text: string, asked: AskedOfAnswer): Uint8Array | SupplierCatalogue | null =>
  asked.what === 'costs' ? costsFile(text, asked.brands) : catalogue(text);
