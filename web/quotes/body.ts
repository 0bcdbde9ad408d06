import type { QuoteBody, QuoteView } from '#contract/quotes.ts';

export const FRESH: QuoteBody = {
  customer: '',
  country: null,
  region: null,
  regionReason: null,
  channel: null,
  list: null,
  listReason: null,
  validUntil: null,
  note: '',
  lines: [],
  charges: [],
  reduction: null,
  estimate: null,
};

/** A quote as it is written, from what the server shows. */
export function bodyOf(q: QuoteView | null): QuoteBody {
  if (!q) return FRESH;
  const { customer, country, region, regionReason, channel, validUntil, note, lines, charges, reduction, estimate } = q;
  return {
    customer,
    country,
    region,
    regionReason,
    channel,
    list: q.listReason ? q.list : null,
    listReason: q.listReason,
    validUntil,
    note,
    lines,
    charges,
    reduction,
    estimate,
  };
}

/** A line that was just added. */
export const newLine = (item: string, pack: string, section: string | null): QuoteBody['lines'][number] => ({
  item,
  pack,
  quantity: '1',
  section,
  reductionKind: null,
  reductionValue: null,
  zeroConfirmed: false,
});

/** The parts of a quote, in the order in which its lines name them. */
export const sectionsOf = (lines: QuoteBody['lines']): string[] => [
  ...new Set(lines.flatMap((l) => (l.section ? [l.section] : []))),
];

const NUMBER = /^\d+(\.\d+)?$/;

/** Whether the server can make figures of it: half-typed figures wait. */
export function complete({
  customer,
  lines,
  charges,
  reduction,
}: Pick<QuoteBody, 'customer' | 'lines' | 'charges' | 'reduction'>): boolean {
  const readable = (t: string | null) => t === null || NUMBER.test(t);
  return (
    customer !== '' &&
    lines.length > 0 &&
    lines.every((l) => NUMBER.test(l.quantity) && readable(l.reductionValue)) &&
    charges.every((c) => readable(c.periods)) &&
    readable(reduction?.value ?? null)
  );
}

/** A quote's fields as a person compares them. */
export const inWords = (field: string, value: unknown): unknown =>
  field !== 'lines'
    ? value
    : (value as QuoteBody['lines']).map((l) => ({
        item: l.item,
        quantity: l.quantity,
        reduced: l.reductionKind ? `${l.reductionValue} ${l.reductionKind.replace('_', ' ')}` : '',
        part: l.section ?? '',
      }));
