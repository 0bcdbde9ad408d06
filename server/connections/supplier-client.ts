import { array, object, string } from 'yup';
import { LimitedProcess } from '../platform/limited-process.ts';
import { threadOf } from '../platform/place.ts';
import { InsideAddress, fetchOutside } from './fetch-outside.ts';
import { type AskedOfAnswer, SupplierTrouble, ofAnswer } from './supplier-answers.ts';
import { currencyCode, dayText, priceText } from '#contract/fields.ts';
import type { SupplierCatalogue } from '#contract/connections.ts';

/** Where a service is, and who asks. */
export interface Account {
  readonly address: string;
  readonly account: string;
}

/** What one unit of `from` is in `to` on a day. */
export interface RateQuote {
  readonly from: string;
  readonly to: string;
  readonly day: string;
  readonly rate: string;
}

export interface SupplierClient {
  /** Whether there is a service of exchange rates. */
  readonly hasRates: boolean;
  /** The country of an address of a network, ISO 3166-1 alpha-2; null: it is not known. */
  countryOf(address: string): Promise<string | null>;
  /** Rates from a day on. */
  rates(from: string): Promise<readonly RateQuote[]>;
  catalogue(of: Account): Promise<SupplierCatalogue>;
  /** What it asks for the brands, as a file of costs; null: it lists nothing of them. */
  costs(of: Account, brands: readonly string[]): Promise<Buffer | null>;
}

/** An answer that takes longer than this is given up, in milliseconds; one that is larger than that, in bytes. */
const PATIENCE_MS = 15_000;
const MOST_BYTES = 32 * 1024 * 1024;

const RATES = object({
  rates: array(
    object({
      from: currencyCode().required(),
      to: currencyCode().required(),
      day: dayText().required(),
      rate: priceText().required(),
    }),
  )
    .max(50_000)
    .required(),
});
const COUNTRY = object({
  country: string()
    .strict()
    .matches(/^[A-Z]{2}$/, { message: 'is no country' })
    .nullable()
    .defined(),
});
export interface Inside {
  /** Hosts, with their port where they have one, that may be asked although they are of this machine's network. */
  readonly inside?: readonly string[];
  /** Gets the real cause for the log; the person who connects a service always sees the same message. */
  readonly noted?: (address: string, trouble: string) => void;
}

/** Size in bytes beyond which an answer is read in a process of its own. */
const LONG_ANSWER = 200_000;

const answers = new LimitedProcess<{ text: Buffer; asked: AskedOfAnswer }, Uint8Array | SupplierCatalogue | null>(
  threadOf('server/connections/answer-process'),
  (why) => new SupplierTrouble(why ?? 'Its answer takes more memory or time to read than a list of costs does.'),
);

/** What is told of a service that nobody vouches for: what answers at an address inside must not be found out through us. */
const NOTHING_USABLE =
  'No list of costs came from this address. Check the address and the account. A service inside this network is asked only where the operator allows it.';

/** Asks suppliers' services. `standins`: where the stand-ins are that ship with the product; null: nowhere. `rates`, `countries`: the services of exchange rates, and of countries. */
export function supplierClient(
  standins: string | null,
  patience = PATIENCE_MS,
  rates: string | null = standins && `${standins}/rates`,
  countries: string | null = standins && `${standins}/country`,
  { inside = [], noted = () => undefined }: Inside = {},
): SupplierClient {
  const whole = ({ address, account }: Account, what: string): URL => {
    const [, key] = /^stand-in\/([a-z]+)$/.exec(address) ?? [];
    if (key && standins === null) throw new SupplierTrouble('The stand-ins of suppliers are not running.');
    const base = key ? `${standins}/${key}` : address.replace(/\/+$/, '');
    const url = new URL(`${base}/${what}`);
    url.searchParams.set('account', account);
    return url;
  };
  /** Services that the operator named: the stand-ins, and those listed. */
  const vouched = (of: Account): boolean => {
    if (/^stand-in\/[a-z]+$/.test(of.address)) return true;
    if (!URL.canParse(of.address)) return false;
    const { host, hostname } = new URL(of.address);
    return inside.includes(host) || inside.includes(hostname);
  };
  /** Asks a service that a person named. A long answer is looked at in a process of its own: nobody waits for that. */
  const ask = async (of: Account, asked: AskedOfAnswer) => {
    const trusted = vouched(of);
    try {
      const text = await textAt(() => whole(of, asked.what), of.account, trusted);
      return text.length > LONG_ANSWER ? await answers.run({ text, asked }) : ofAnswer(text.toString('utf8'), asked);
    } catch (error) {
      if (trusted) throw error;
      noted(of.address, (error as Error).message);
      throw new SupplierTrouble(NOTHING_USABLE);
    }
  };
  const textAt = async (where: () => URL, account: string, trusted = true): Promise<Buffer> => {
    let text: Buffer;
    let status: number;
    try {
      const response = await fetchOutside(where(), AbortSignal.timeout(patience), trusted);
      status = response.status;
      text = await bounded(response.body);
    } catch (error) {
      throw error instanceof SupplierTrouble ? error : new SupplierTrouble(troubleOf(error, patience));
    }
    if (status === 401 || status === 403) throw new SupplierTrouble(`It does not know the account ${account}.`);
    if (status === 404) throw new SupplierTrouble('There is no such service at this address.');
    if (status !== 200) throw new SupplierTrouble(`It answers that it cannot (${status}).`);
    return text;
  };
  const askAt = async (where: () => URL, account: string): Promise<unknown> => {
    const text = await textAt(where, account);
    try {
      return JSON.parse(text.toString('utf8'));
    } catch {
      throw new SupplierTrouble('Its answer cannot be read: it is no list of costs.');
    }
  };
  const held = async <T>(schema: Held<T>, value: unknown): Promise<T> => {
    try {
      return await schema.validate(value, { abortEarly: true, strict: true });
    } catch (error) {
      throw new SupplierTrouble(`Its answer is no list of costs: ${(error as Error).message}.`);
    }
  };
  return {
    hasRates: rates !== null,
    countryOf: async (address) => {
      if (countries === null) throw new SupplierTrouble('No service that knows the countries of addresses is set up.');
      const where = () => new URL(`${countries}?address=${encodeURIComponent(address)}`);
      return (await held(COUNTRY, await askAt(where, '–'))).country ?? null;
    },
    rates: async (from) => {
      if (rates === null) throw new SupplierTrouble('No service of exchange rates is set up.');
      const where = () => new URL(`${rates}?from=${from}`);
      return (await held(RATES, await askAt(where, '–'))).rates as readonly RateQuote[];
    },
    costs: async (of, brands) => {
      const made = (await ask(of, { what: 'costs', brands })) as Uint8Array | null;
      return made && Buffer.from(made);
    },
    catalogue: async (of) => (await ask(of, { what: 'catalogue' })) as SupplierCatalogue,
  };
}

interface Held<T> {
  validate(value: unknown, how: object): Promise<T>;
}

async function bounded(body: AsyncIterable<Uint8Array>): Promise<Buffer> {
  const parts: Uint8Array[] = [];
  let size = 0;
  for await (const part of body) {
    size += part.length;
    if (size > MOST_BYTES) throw new SupplierTrouble('Its answer is larger than any list of costs.');
    parts.push(part);
  }
  return Buffer.concat(parts);
}

function troubleOf(error: unknown, patience: number): string {
  const { name, code = '', cause } = error as Error & { code?: string; cause?: unknown };
  if (error instanceof InsideAddress) return 'It is an address inside this network.';
  if (name === 'TimeoutError' || (cause as Error | undefined)?.name === 'TimeoutError')
    return `It did not answer within ${patience / 1000} seconds.`;
  if (code === 'ECONNREFUSED' || code === 'ENOTFOUND' || code === 'EAI_AGAIN') return 'It cannot be reached.';
  return 'It broke off in the middle of its answer.';
}
