import { isIP } from 'node:net';
import { type QuoteFigures, type QuoteView } from '#contract/quotes.ts';
import { SupplierTrouble } from '../connections/supplier-answers.ts';
import { refused } from '../platform/refused.ts';
import type { Context } from '../platform/context.ts';
import { type Asked, route } from '../platform/http/route.ts';
import { quoteRoutes as declared } from '#contract/api/quotes.ts';
import { recordId } from '../setup/one-record.ts';
import { readSettings, settingsAt } from '../setup/settings.ts';
import { type Revisions, revisionsOf } from '../ledger/audit.ts';
import { stateOfItems, today } from '../workspace/asked-day.ts';
import { type Loaded, workspaceOn } from '../workspace/state.ts';
import type { ChainView } from '#contract/change-orders.ts';
import { acceptQuote, dropChange, issueChange, keepChange, tryChange, viewChain } from './change-orders.ts';
import { checkPrice } from './check-price.ts';
import { quoteFigures, withoutCost } from './figures.ts';
import { advanceQuote, changeQuote, decideQuote, writeQuote } from './operations.ts';
import { askedOf } from './question.ts';
import { listFor, listQuotes, viewQuote, whereTo } from './store.ts';
import type { SignedIn } from '../platform/http/signed-in.ts';

const quoteId = (asked: Pick<Asked, 'params'>) => recordId('The quote', asked.params['id']);
const now = async (context: Context): Promise<Loaded> => workspaceOn(context.db, await today(context));

/** The figures that a person may see. */
async function seenBy(
  context: Context,
  person: SignedIn,
  figures: QuoteFigures,
  at?: Revisions,
): Promise<QuoteFigures> {
  if (person.rights.has('see_cost')) return figures;
  const { showsCostFloors } = await settingsAt(context.db, at ?? (await revisionsOf(context.db)));
  return withoutCost(figures, showsCostFloors);
}

async function view({ context, person }: Pick<Asked, 'context' | 'person'>, id: number): Promise<QuoteView> {
  const { ws, day } = await now(context);
  const quote = await viewQuote(context.db, ws, day, id);
  return { ...quote, figures: await seenBy(context, person, quote.figures) };
}

/** A chain whose figures are those that a person may see. */
async function chainSeenBy(
  { context, person }: Pick<Asked, 'context' | 'person'>,
  view: ChainView,
): Promise<ChainView> {
  const documents = [];
  for (const d of view.documents) documents.push({ ...d, figures: await seenBy(context, person, d.figures) });
  return { ...view, documents };
}

const chain = async (asked: Pick<Asked, 'context' | 'person' | 'params'>): Promise<ChainView> =>
  chainSeenBy(asked, await viewChain(asked.context, quoteId(asked), await today(asked.context)));

export const quoteRoutes = [
  route(declared.all, ({ context }) => listQuotes(context.db)),
  route(declared.write, async (asked) =>
    view(asked, await writeQuote(asked.context, asked.person, await today(asked.context), asked.body)),
  ),
  // prices as they would be, while a quote is being written: nothing is kept
  route(declared.figures, async ({ context, person, body }) => {
    const { ws, day } = await now(context);
    const list = listFor(ws, { ...body, listReason: body.listReason ?? 'trying' }, day);
    const figures = quoteFigures(ws, askedOf(ws, body, list, day));
    const { listWhy, regionName } = whereTo(ws, body, day);
    return { list, listWhy, regionName, figures: await seenBy(context, person, figures) };
  }),
  route(declared.one, (asked) => view(asked, quoteId(asked))),
  route(declared.change, async (asked) => {
    const { version, ...body } = asked.body;
    await changeQuote(asked.context, asked.person, await today(asked.context), quoteId(asked), version, body);
    return view(asked, quoteId(asked));
  }),
  ...(['ask', 'issue'] as const).map((action) =>
    route(declared[action], async (asked) => {
      await advanceQuote(
        asked.context,
        asked.person,
        // read beforehand, so that nobody waits for it inside the transaction
        (await now(asked.context)).day,
        quoteId(asked),
        asked.body.version,
        action,
      );
      return view(asked, quoteId(asked));
    }),
  ),
  route(declared.decide, async (asked) => {
    await decideQuote(
      asked.context,
      asked.person,
      quoteId(asked),
      asked.body.version,
      asked.body.decision,
      asked.body.note,
    );
    return view(asked, quoteId(asked));
  }),
  route(declared.pdf, async (asked) => {
    const quote = await view(asked, quoteId(asked));
    const { name } = await readSettings(asked.context.db);
    const pdf = await asked.context.pdf(quote, name);
    asked.response
      .type('application/pdf')
      .set('content-disposition', `inline; filename="quote-${quote.number}.pdf"`)
      .send(pdf);
    return undefined;
  }),
  route(declared.countryOf, async ({ context, query }) => {
    const address = query['address']?.trim() ?? '';
    const faults = [{ path: 'address', message: 'must be an address such as 203.0.113.7' }];
    if (isIP(address) === 0) throw refused('fields_wrong', {}, { faults });
    try {
      return { address, country: await context.suppliers.countryOf(address) };
    } catch (error) {
      throw error instanceof SupplierTrouble ? refused('no_country_service', { why: error.message }) : error;
    }
  }),
  // its state is that of the moment who asks was looked up: programs ask for hundreds a second
  route(declared.priceCheck, async ({ context, person, body, revisions: at }) => {
    const loaded = await stateOfItems(context, body.day, [body.item], at);
    const found = await checkPrice(context.db, loaded, body, person.rights.has('see_cost'));
    return { ...found, figures: await seenBy(context, person, found.figures, at) };
  }),
  route(declared.accept, async (asked) => {
    const day = await today(asked.context);
    await acceptQuote(asked.context, asked.person, quoteId(asked), day, asked.body);
    return chain(asked);
  }),
  route(declared.chain, (asked) => chain(asked)),
  route(declared.tryChange, async (asked) => {
    const day = await today(asked.context);
    return chainSeenBy(asked, await tryChange(asked.context, asked.person, quoteId(asked), day, asked.body));
  }),
  route(declared.keepChange, async (asked) => {
    const { version, ...body } = asked.body;
    await keepChange(asked.context, asked.person, quoteId(asked), await today(asked.context), version, body);
    return chain(asked);
  }),
  route(declared.dropChange, async (asked) => {
    await dropChange(asked.context, asked.person, quoteId(asked), asked.body.version);
    return chain(asked);
  }),
  route(declared.issueChange, async (asked) => {
    const day = await today(asked.context);
    await issueChange(asked.context, asked.person, quoteId(asked), day, asked.body.version);
    return chain(asked);
  }),
];
