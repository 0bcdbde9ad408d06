import { dec, plain, ZERO } from '#core/numbers/decimal.ts';
import { UnreadableSheet } from '../costs/unreadable.ts';
import { type Element, type Node, all, attributeAt, textAt, writeDocument } from './xml.ts';

/** A line of an invoice as it was read; quantity in cost packs, price for one, without tax. */
export interface InvoiceLine {
  readonly line: string;
  readonly code: string | null;
  readonly barcode: string | null;
  readonly name: string | null;
  readonly quantity: string;
  readonly price: string;
  readonly packUnits: string;
}

export interface InvoiceRead {
  readonly number: string;
  readonly day: string;
  readonly currency: string;
  readonly note: string | null;
  readonly supplier: string | null;
  /** Charges of the whole less allowances, without tax. */
  readonly fee: string | null;
  readonly lines: readonly InvoiceLine[];
}

const NUMBER = /^-?\d+(\.\d+)?$/;

/**
 * Reads a UBL invoice. A price is for its base quantity: "428.00 for 220 metres" is a cost pack of 220, of which as many were
 * sent as the quantity holds. Throws UnreadableSheet with the line where something is missing.
 */
export function readInvoice(root: Node): InvoiceRead {
  const need = (text: string | null, what: string): string => {
    if (text === null) throw new UnreadableSheet(`the invoice has no ${what}`);
    return text;
  };
  const number = (text: string | null, what: string): string => {
    const found = need(text, what);
    if (!NUMBER.test(found)) throw new UnreadableSheet(`${what} is “${found}”, which is no number`);
    return found;
  };
  const fee = all(root, 'AllowanceCharge').reduce<ReturnType<typeof dec>>((sum, c) => {
    const amount = dec(number(textAt(c, 'Amount'), 'amount of a charge'));
    return textAt(c, 'ChargeIndicator') === 'false' ? sum.minus(amount) : sum.plus(amount);
  }, ZERO);
  const lines = all(root, 'InvoiceLine').map((line, i): InvoiceLine => {
    const id = textAt(line, 'ID') ?? String(i + 1);
    const quantity = dec(number(textAt(line, 'InvoicedQuantity'), `quantity in line ${id}`));
    const price = number(textAt(line, 'Price', 'PriceAmount'), `price in line ${id}`);
    const base = dec(number(textAt(line, 'Price', 'BaseQuantity') ?? '1', `base quantity in line ${id}`));
    if (!base.gt(0)) throw new UnreadableSheet(`the base quantity in line ${id} is not more than 0`);
    return {
      line: id,
      code:
        textAt(line, 'Item', 'SellersItemIdentification', 'ID') ??
        textAt(line, 'Item', 'BuyersItemIdentification', 'ID'),
      barcode: textAt(line, 'Item', 'StandardItemIdentification', 'ID'),
      name: textAt(line, 'Item', 'Name') ?? textAt(line, 'Item', 'Description'),
      quantity: plain(quantity.div(base)),
      price,
      packUnits: plain(base),
    };
  });
  if (lines.length === 0) throw new UnreadableSheet('the invoice has no line');
  const currency =
    textAt(root, 'DocumentCurrencyCode') ?? attributeAt(root, 'currencyID', 'LegalMonetaryTotal', 'PayableAmount');
  return {
    number: need(textAt(root, 'ID'), 'number'),
    day: need(textAt(root, 'IssueDate'), 'day of issue'),
    currency: need(currency, 'currency'),
    note: textAt(root, 'Note'),
    supplier: textAt(root, 'AccountingSupplierParty', 'Party', 'PartyName', 'Name'),
    fee: fee.gt(0) ? plain(fee) : null,
    lines,
  };
}

export interface InvoiceOut {
  readonly number: string;
  readonly day: string;
  readonly currency: string;
  readonly note: string | null;
  readonly supplier: string;
  readonly customer: string;
  readonly fee: string | null;
  readonly lines: readonly {
    readonly sku: string;
    readonly name: string;
    readonly quantity: string;
    readonly packUnits: string;
    readonly price: string;
  }[];
}

const party = (name: string): Element => ['Party', [['PartyName', [['Name', name]]]]];

/** Goods of a bill as a UBL 2.1 invoice, without tax. */
export function writeInvoice(b: InvoiceOut): string {
  const money = { currencyID: b.currency };
  const goods = b.lines.reduce((sum, l) => sum.plus(dec(l.quantity).times(l.price)), ZERO);
  const total = goods.plus(b.fee ?? 0);
  return writeDocument('Invoice', [
    ['UBLVersionID', '2.1'],
    ['ID', b.number],
    ['IssueDate', b.day],
    ['InvoiceTypeCode', '380'],
    b.note === null ? null : ['Note', b.note],
    ['DocumentCurrencyCode', b.currency],
    ['LineCountNumeric', String(b.lines.length)],
    ['AccountingSupplierParty', [party(b.supplier)]],
    ['AccountingCustomerParty', [party(b.customer)]],
    b.fee === null
      ? null
      : [
          'AllowanceCharge',
          [
            ['ChargeIndicator', 'true'],
            ['Amount', b.fee, money],
          ],
        ],
    [
      'LegalMonetaryTotal',
      [
        ['LineExtensionAmount', plain(goods), money],
        ['TaxExclusiveAmount', plain(total), money],
        b.fee === null ? null : ['ChargeTotalAmount', b.fee, money],
        ['PayableAmount', plain(total), money],
      ],
    ],
    ...b.lines.map((l, i): Element => [
      'InvoiceLine',
      [
        ['ID', String(i + 1)],
        ['InvoicedQuantity', plain(dec(l.quantity).times(l.packUnits))],
        ['LineExtensionAmount', plain(dec(l.quantity).times(l.price)), money],
        [
          'Item',
          [
            ['Name', l.name],
            ['BuyersItemIdentification', [['ID', l.sku]]],
          ],
        ],
        [
          'Price',
          [
            ['PriceAmount', l.price, money],
            ['BaseQuantity', l.packUnits],
          ],
        ],
      ],
    ]),
  ]);
}
