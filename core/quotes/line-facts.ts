import type { Derivation } from '../buildup/steps.ts';
import type { Buyer } from '../lists/choose-list.ts';
import { toNet } from '../lists/terms.ts';
import { type Dec, dec, plain, settle } from '../numbers/decimal.ts';
import { marginOf, markupOf } from '../recipes/markup.ts';
import type { QuotesView } from './view.ts';
import type { QuoteQuestion } from './questions.ts';
import { type FactOf, asFact } from './rules/condition.ts';
import type { ResolvedLine } from './resolved-line.ts';

const decided = (figure: Dec | null): Dec | null => figure && settle(figure);

/** What conditions can ask of a line at its present price. `packCost`: landed, per pack, in the list's currency. */
export function lineFacts(
  ws: QuotesView,
  q: QuoteQuestion,
  buyer: Buyer,
  { line, item, pack, quantity, price }: ResolvedLine,
  d: Derivation,
  packCost: Dec | null,
): FactOf {
  const { list, terms, regular } = price.listPrice;
  const customer = buyer.customer ? ws.customers.get(buyer.customer) : undefined;
  const net = () => settle(toNet(terms, d.figure));
  const known: Record<string, () => readonly string[]> = {
    'item.sku': () => [item.sku],
    'item.name': () => [item.name],
    'item.unit': () => [item.unit],
    'item.category': () => ws.lineage(item.category),
    'item.brand': () => asFact(item.brand),
    'item.model': () => asFact(item.model),
    'item.supplier': () => asFact(item.supplier),
    'item.weight': () => asFact(item.weightKg),
    'customer.id': () => asFact(buyer.customer),
    'customer.group': () => buyer.groups,
    'customer.country': () => asFact(customer?.country),
    'quote.day': () => [q.day],
    'quote.list': () => [list.id],
    'quote.region': () => asFact(buyer.region),
    'quote.country': () => asFact(buyer.country),
    'quote.channel': () => asFact(buyer.channel),
    'line.quantity': () => [plain(quantity)],
    'line.weight': () => (item.weightKg ? [plain(dec(item.weightKg).times(pack.units).times(quantity))] : []),
    'line.pack': () => [pack.name],
    'line.section': () => asFact(line.section),
    'line.list_price': () => [plain(regular)],
    'line.price': () => [plain(settle(d.figure))],
    'line.margin': () => asFact(decided(packCost && marginOf(packCost, net()))),
    'line.markup': () => asFact(decided(packCost && markupOf(packCost, net()))),
  };
  const attributes: Record<string, Readonly<Record<string, string>> | null | undefined> = {
    item: item.attributes,
    customer: customer?.attributes,
    quote: q.attributes,
    line: line.attributes,
  };
  return (fact) => {
    const found = known[fact];
    if (found) return found();
    const [of, name] = fact.split('.attributes.');
    return name === undefined ? [] : asFact(attributes[of!]?.[name]);
  };
}
