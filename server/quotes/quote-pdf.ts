import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import pdfMake from 'pdfmake';
import type { Content, TableCell, TDocumentDefinitions } from 'pdfmake/interfaces.js';
import { type QuoteView, totalBeforeDiscount } from '#contract/quotes.ts';
import { ZERO, dec, money } from '#core/numbers/decimal.ts';
import type { PdfAsked } from './pdf-thread.ts';

const fonts = join(dirname(createRequire(import.meta.url).resolve('pdfmake/package.json')), 'fonts', 'Roboto');
pdfMake.addFonts({
  Roboto: {
    normal: join(fonts, 'Roboto-Regular.ttf'),
    bold: join(fonts, 'Roboto-Medium.ttf'),
    italics: join(fonts, 'Roboto-Italic.ttf'),
    bolditalics: join(fonts, 'Roboto-MediumItalic.ttf'),
  },
});
// nothing a quote holds may make the server fetch an address or read another file
pdfMake.setUrlAccessPolicy(() => false);
pdfMake.setLocalAccessPolicy((path: string) => path.startsWith(fonts));

const HAIR = '#9a948a';

const right = (text: string, more: object = {}): TableCell => ({ text, alignment: 'right', ...more });
const head = (text: string, alignment: 'left' | 'right' = 'left'): TableCell => ({
  text,
  alignment,
  fontSize: 8,
  color: '#55503f',
});

/** A figure as it is read: thousands apart, its own decimals. */
function number(text: string | null): string {
  if (text === null) return '–';
  const digits = text.split('.')[1]?.length ?? 0;
  const form = new Intl.NumberFormat('en-GB', { minimumFractionDigits: digits, maximumFractionDigits: digits });
  // decimals are formatted exactly from their text
  return form.format(text as unknown as number);
}

const DAYS = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', year: 'numeric', timeZone: 'UTC' });
/** A day that nobody can misread: 9 Mar 2026. */
const day = (iso: string): string => DAYS.format(new Date(`${iso}T00:00:00Z`));

/** The lines, each part of the quote with its sum where there are several parts. */
function withSubtotals(quote: QuoteView, lines: readonly TableCell[][]): TableCell[][] {
  const partOf = (i: number) => quote.lines[i]?.section ?? null;
  const parts = new Set(lines.map((_, i) => partOf(i)));
  if (parts.size < 2) return [...lines];
  const sumOf = (part: string | null) =>
    quote.figures.lines
      .filter((_, i) => partOf(i) === part)
      .reduce((sum, l) => sum.plus(totalBeforeDiscount(l) ?? 0), ZERO);
  const last = new Map(lines.map((_, i) => [partOf(i), i]));
  const digits = quote.figures.linesTotal.split('.')[1]?.length ?? 0;
  return lines.flatMap((line, i) => {
    const part = partOf(i);
    if (last.get(part) !== i) return [line];
    const sum = right(number(money(sumOf(part), digits)), { bold: true });
    return [line, ['', { text: `${part ?? 'without a section'} in all`, bold: true }, '', '', '', sum]];
  });
}

/** A discount on the whole quote, as a line of its own with its name. */
function discountRow({ figures, reduction }: QuoteView): TableCell[][] {
  const given = figures.reduction?.given;
  if (!given || dec(given).isZero()) return [];
  const of = reduction?.kind === 'percent_off' ? `, ${number(reduction.value)} %` : '';
  const on = reduction?.sections.length ? ` (${reduction.sections.join(', ')})` : ' on the whole quote';
  return [['', `Discount${on}${of}`, '', '', '', right(`−${number(given)}`)]];
}

/** The quote as a page to send: figures as they travel, only added up here. */
export function quoteDocument(quote: QuoteView, seller: string): TDocumentDefinitions {
  const { figures } = quote;
  const draft = quote.state !== 'issued' && quote.state !== 'accepted';
  const lines = figures.lines.map((l, i): TableCell[] => [
    { text: String(i + 1), color: HAIR },
    {
      stack: [
        { text: l.name },
        {
          text: [
            quote.lines[i]?.section ? `${quote.lines[i].section} · ` : '',
            l.sku,
            l.slices.length > 1
              ? `, ${l.slices.map((s) => `${number(s.quantity)} at ${number(s.price)}`).join(', ')}`
              : '',
            l.freeUnits ? `, ${l.freeUnits} of them free` : '',
            l.struck ? `, before ${number(l.struck)}` : '',
          ].join(''),
          fontSize: 8,
          color: '#55503f',
        },
      ],
    },
    { text: l.packName },
    right(number(l.quantity)),
    right(number(l.unitPrice)),
    right(number(totalBeforeDiscount(l))),
  ]);
  const rows = withSubtotals(quote, lines);
  const charges = figures.charges.map((c): TableCell[] => ['', c.name, '', '', '', right(number(c.total))]);
  const discount = discountRow(quote);
  const sums: TableCell[][] = figures.taxIn
    ? [
        ...figures.taxes.map((t) => [
          { text: `tax in it, ${number(t.percent)} % of ${number(t.net)}` },
          right(number(t.tax)),
        ]),
      ]
    : [
        [{ text: 'net' }, right(number(figures.net))],
        ...figures.taxes.map((t) => [{ text: `tax ${number(t.percent)} % of ${number(t.net)}` }, right(number(t.tax))]),
      ];
  const content: Content[] = [
    {
      columns: [
        { text: seller, fontSize: 14, bold: true },
        { text: draft ? 'DRAFT, not an offer' : 'Quote', alignment: 'right', fontSize: 14 },
      ],
    },
    { canvas: [{ type: 'line', x1: 0, y1: 4, x2: 515, y2: 4, lineWidth: 0.5, lineColor: HAIR }] },
    {
      margin: [0, 10, 0, 14],
      columns: [
        {
          stack: [
            { text: 'for', fontSize: 8, color: '#55503f' },
            { text: quote.customerName, bold: true },
          ],
        },
        {
          stack: [
            `Number ${quote.number}`,
            `Day ${day(quote.day)}`,
            ...(quote.validUntil ? [`Valid until ${day(quote.validUntil)}`] : []),
          ],
          alignment: 'right',
        },
      ],
    },
    {
      layout: {
        hLineWidth: (i: number) => (i === 0 ? 0 : 0.4),
        vLineWidth: () => 0,
        hLineColor: () => HAIR,
        paddingTop: () => 4,
        paddingBottom: () => 4,
      },
      table: {
        headerRows: 1,
        widths: [16, '*', 60, 50, 60, 70],
        body: [
          [
            head(''),
            head('item'),
            head('pack'),
            head('quantity', 'right'),
            head(`each, ${figures.currency}`, 'right'),
            head(`total, ${figures.currency}`, 'right'),
          ],
          ...rows,
          ...discount,
          ...charges,
        ],
      },
    },
    {
      margin: [0, 10, 0, 0],
      columns: [
        { width: '*', text: figures.taxIn ? 'Prices with tax.' : 'Prices without tax.', fontSize: 8, color: '#55503f' },
        {
          width: 250,
          layout: {
            hLineWidth: (i: number, node: { table: { body: unknown[] } }) =>
              i >= node.table.body.length - 1 ? 0.8 : 0,
            vLineWidth: () => 0,
            hLineColor: () => '#1d2433',
          },
          table: {
            widths: ['*', 80],
            body: [
              ...sums,
              [{ text: `to pay, ${figures.currency}`, bold: true }, right(number(figures.toPay), { bold: true })],
            ],
          },
        },
      ],
    },
    // the second of the two rules under a final figure
    { canvas: [{ type: 'line', x1: 265, y1: 2, x2: 515, y2: 2, lineWidth: 0.8, lineColor: '#1d2433' }] },
    ...(quote.note ? [{ text: quote.note, margin: [0, 16, 0, 0] as [number, number, number, number] }] : []),
  ];
  return {
    content,
    defaultStyle: { font: 'Roboto', fontSize: 10, lineHeight: 1.15 },
    pageSize: 'A4',
    pageMargins: [40, 40, 40, 50],
    info: { title: `Quote ${quote.number}` },
    footer: (page: number, pages: number) => ({
      text: `${quote.number} · page ${page} of ${pages}`,
      alignment: 'center',
      fontSize: 8,
      color: HAIR,
    }),
    ...(draft ? { watermark: { text: 'draft', color: '#b9b2a3', opacity: 0.25 } } : {}),
  };
}

/** Runs in a worker thread: a long quote takes its time. */
export default async function makePdf({ quote, company }: PdfAsked): Promise<Uint8Array> {
  return new Uint8Array(await pdfMake.createPdf(quoteDocument(quote, company)).getBuffer());
}
