import { dec, divide, plain, roundHalfUp } from '#core/numbers/decimal.ts';
import { UnreadableSheet } from '../costs/unreadable.ts';
import type { Cell, Page } from '../costs/workbook.ts';
import { type Element, type Node, all, attributeAt, textAt, writeDocument } from './xml.ts';

/** What the columns of a catalogue are called; a sheet that is read by itself knows them. */
const HEADINGS = [
  'Code',
  'Barcode',
  'Description',
  'Net price',
  'Currency',
  'From quantity',
  'Pack size',
  'Unit',
  'Valid from',
  'Valid to',
];

const FIGURE = /^\d+(\.\d+)?$/;

/** A least quantity of units as packs of the base quantity; one pack is no price for more at once. */
function packsAtLeast(least: string | null, base: string | null): string | null {
  if (least === null || !FIGURE.test(least)) return null;
  const packs = base !== null && FIGURE.test(base) && !dec(base).isZero() ? divide(dec(least), dec(base)) : dec(least);
  return packs.gt(1) ? plain(roundHalfUp(packs, 6)) : null;
}

/**
 * The lines of a UBL catalogue as a sheet of cells: a price is for its base quantity, and where it
 * has a least quantity for so many packs at once; without one, for the content of the
 * orderable unit, else for one.
 */
export function cataloguePages(root: Node): Page[] {
  const from = textAt(root, 'ValidityPeriod', 'StartDate');
  const number = (text: string | null): Cell => (text === null ? '' : { n: text });
  const rows = all(root, 'CatalogueLine').flatMap((line): Cell[][] => {
    const priced = all(line, 'RequiredItemLocationQuantity').filter((q) => textAt(q, 'Price', 'PriceAmount') !== null);
    // a line without any price is told of where it is read
    const prices = priced.length > 0 ? priced : [undefined];
    return prices.map((price) => {
      const base = textAt(price, 'Price', 'BaseQuantity') ?? textAt(line, 'ContentUnitQuantity');
      return [
        textAt(line, 'Item', 'SellersItemIdentification', 'ID') ??
          textAt(line, 'Item', 'BuyersItemIdentification', 'ID') ??
          '',
        textAt(line, 'Item', 'StandardItemIdentification', 'ID') ?? '',
        textAt(line, 'Item', 'Name') ?? textAt(line, 'Item', 'Description') ?? '',
        number(textAt(price, 'Price', 'PriceAmount')),
        attributeAt(price, 'currencyID', 'Price', 'PriceAmount') ?? '',
        number(packsAtLeast(textAt(price, 'MinimumQuantity'), base)),
        number(base),
        attributeAt(price, 'unitCode', 'Price', 'BaseQuantity') ?? '',
        textAt(line, 'LineValidityPeriod', 'StartDate') ?? from ?? '',
        textAt(line, 'LineValidityPeriod', 'EndDate') ?? '',
      ];
    });
  });
  if (rows.length === 0) throw new UnreadableSheet('the catalogue has no line');
  // a column that no line fills is none
  const used = HEADINGS.map((_, i) => rows.some((r) => r[i] !== ''));
  const filled = (row: readonly Cell[]) => row.filter((_, i) => used[i]);
  return [{ name: 'Catalogue', rows: [filled(HEADINGS), ...rows.map(filled)] }];
}

export interface CatalogueOut {
  readonly id: string;
  readonly name: string;
  readonly day: string;
  readonly provider: string;
  readonly receiver: string;
  readonly currency: string;
  readonly lines: readonly {
    readonly sku: string;
    readonly barcode: string | null;
    readonly name: string;
    readonly brand: string | null;
    readonly price: string;
    readonly units: string;
    readonly from: string;
  }[];
}

const party = (name: string): Element => ['PartyName', [['Name', name]]];

/** A price list as a UBL 2.1 catalogue: each pack a line, its price without tax for the units in it. */
export function writeCatalogue(c: CatalogueOut): string {
  return writeDocument('Catalogue', [
    ['UBLVersionID', '2.1'],
    ['ID', c.id],
    ['Name', c.name],
    ['IssueDate', c.day],
    ['LineCountNumeric', String(c.lines.length)],
    ['ProviderParty', [party(c.provider)]],
    ['ReceiverParty', [party(c.receiver)]],
    ...c.lines.map((l, i): Element => [
      'CatalogueLine',
      [
        ['ID', String(i + 1)],
        ['LineValidityPeriod', [['StartDate', l.from]]],
        [
          'RequiredItemLocationQuantity',
          [
            [
              'Price',
              [
                ['PriceAmount', l.price, { currencyID: c.currency }],
                ['BaseQuantity', l.units],
              ],
            ],
          ],
        ],
        [
          'Item',
          [
            ['Name', l.name],
            l.brand === null ? null : ['BrandName', l.brand],
            ['SellersItemIdentification', [['ID', l.sku]]],
            l.barcode === null ? null : ['StandardItemIdentification', [['ID', l.barcode]]],
          ],
        ],
      ],
    ]),
  ]);
}
