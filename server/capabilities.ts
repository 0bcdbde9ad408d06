/** One thing the job needs, and where it is found. An empty screen or API says that it is not there yet. */
export interface Capability {
  readonly what: string;
  /** Files of the core. */
  readonly core: readonly string[];
  /** "get /items". */
  readonly api: readonly string[];
  /** Addresses inside the application. */
  readonly screens: readonly string[];
  /** What is not there yet; absent: it is whole. */
  readonly left?: string;
}

const c = (
  what: string,
  core: readonly string[],
  api: readonly string[],
  screens: readonly string[],
  left?: string,
): Capability => ({ what, core, api, screens, ...(left ? { left } : {}) });

const RECORD = (name: string) => [`get /${name}`, `post /${name}`, `put /${name}/:id`];

/** Where each thing is found; docs/capabilities.md is made from it, server/capabilities.test.ts holds it to what there is. */
export const CAPABILITIES: Readonly<Record<string, readonly Capability[]>> = {
  'Items and costs': [
    c(
      'An item in one place: codes, packs, attributes, deposits, RRP and MAP, costs, every price with its source, rules, quotes, history',
      ['items/item.ts', 'lists/list-price.ts'],
      ['get /items/:id/page', 'post /items', 'put /items/:id'],
      ['/items/:id', '/items'],
    ),
    c(
      'Attributes with their unit and values, brands and tax classes, declared once and chosen; one value written in several ways found and written in one',
      ['items/described.ts', 'checks/check-descriptions.ts'],
      [...RECORD('attributes'), ...RECORD('brands'), ...RECORD('taxClasses'), 'post /items/merge-values'],
      ['/setup/:register?', '/items/:id'],
    ),
    c(
      'Items out as a file (CSV, XLSX) and in again with a checked difference, taken back whole; variants of a model from values of attributes in one go',
      ['items/described.ts'],
      [
        'get /item-file',
        'post /item-file/check',
        'post /item-files',
        'get /item-files',
        'post /item-files/:id/take-back',
      ],
      ['/items/file', '/items/:id/variants'],
    ),
    c(
      'Packs with units, deposits of pack and unit, a barcode each: searched, scanned into lines, known in cost sheets',
      ['lists/terms.ts'],
      ['put /items/:id'],
      ['/items/:id'],
    ),
    c(
      'Costs from a file (CSV, XLSX) or pasted: read as the supplier’s last one was, compared, corrected, some or all taken in, held, turned down, taken back',
      ['costs/compare-costs.ts'],
      [
        'post /cost-sheets',
        'get /cost-sheets/:id/intake',
        'post /cost-sheets/:id/intake/cancel',
        'get /cost-sheets/:id',
        'get /cost-sheets/:id/rows',
        'put /cost-sheets/:id/match',
        'put /cost-sheets/:id/rows',
        'post /cost-sheets/:id/take-in',
        'post /cost-sheets/:id/set-aside',
        'post /cost-sheets/:id/take-back',
        'get /cost-sheets/:id/file',
      ],
      ['/costs', '/costs/:id'],
    ),
    c(
      'Suspicious costs, each with why; codes that are matched once are known in every later file; costs that follow by themselves',
      ['costs/arriving-cost.ts', 'costs/like-items.ts'],
      ['get /cost-sheets/:id', 'post /cost-sheets/:id/codes', 'get /cost-suppliers', 'put /cost-suppliers/:id'],
      ['/costs', '/costs/:id'],
    ),
    c(
      'Which prices on which lists an arrival would move, and how far; one step proposes them',
      ['bulk/price-moves.ts'],
      ['get /cost-sheets/:id/effect', 'post /worksheets'],
      ['/costs/:id', '/worksheets/:id'],
    ),
    c(
      'Which prices on which lists a record would move as it is typed: a rate, a tax, a recipe, a supplier’s terms',
      ['bulk/price-moves.ts'],
      ['post /findings/moves-of-change'],
      ['/setup/:register?', '/recipes/:id?'],
    ),
    c(
      'Suppliers’ services: browsed, connected by account, followed by brand, asked again and again; a seller asks for one',
      ['costs/landed-cost.ts'],
      [
        'get /connections',
        'get /items/:id/connection',
        'post /connections/browse',
        'put /connections/:id',
        'post /connections/:id/fetch',
        'post /connection-requests',
      ],
      ['/costs', '/items/:id'],
      'one kind of service',
    ),
    c(
      'Exchange rates: how each went, those a service quotes beside those that count, taken by a person who sees what moves, or followed',
      ['costs/exchange.ts'],
      [...RECORD('exchange-rates'), 'get /fetched-rates', 'post /fetched-rates/fetch', 'put /fetched-rates'],
      ['/setup/:register?'],
    ),
    c(
      'A supplier’s bill: written down, with a fee its lines bear, looked at, made final, taken back',
      ['costs/landed-cost.ts'],
      ['get /bills', 'post /bills', 'put /bills/:id', 'post /bills/:id/final', 'post /bills/:id/take-back'],
      ['/costs', '/bills/:id'],
    ),
    c(
      'UBL (2.1): a catalogue in as a cost sheet, an invoice in as a bill; a list out as a catalogue, a bill as an invoice',
      ['lists/terms.ts'],
      ['post /cost-sheets', 'post /bill-files', 'get /bills/:id/ubl', 'get /lists/:id/ubl'],
      ['/costs', '/bills/:id', '/lists/:id?'],
    ),
    c(
      'Typed costs, usual and reduced, that hold until they are released',
      ['costs/landed-cost.ts'],
      ['post /costs', 'post /costs/proposal', 'post /costs/:id/release', 'get /items/:id/costs'],
      ['/items/:id'],
    ),
    c(
      'Landed cost: freight, duty, handling, overhead, an order’s fee, exchange by day; by supplier, and from a day on by category or item where it differs',
      ['costs/landed-cost.ts', 'costs/landed-terms.ts'],
      [...RECORD('suppliers'), ...RECORD('landed')],
      ['/setup/:register?', '/suppliers'],
    ),
    c(
      'Whose cost counts, and what another choice would change, item by item',
      ['costs/supplier-choices.ts'],
      ['get /supplier-choices'],
      ['/suppliers'],
    ),
  ],
  'From cost to price': [
    c(
      'Recipes: basis, add-ons, uplift by ties and bands, ladders, guards',
      ['recipes/compute-price.ts', 'recipes/uplift.ts', 'guards/guards.ts'],
      RECORD('recipes'),
      ['/recipes/:id?'],
    ),
    c(
      'A change tried on every price before it is kept',
      ['bulk/price-rows.ts'],
      ['post /lists/:id/trial'],
      ['/recipes/:id?'],
    ),
    c(
      'Ladders: multiples, endings, four directions, offset, by band, as default of a currency',
      ['rounding/ladder.ts'],
      RECORD('ladders'),
      ['/ladders/:id?'],
      'the whole catalogue is not run through one',
    ),
    c(
      'Lockstep groups: joined with what differs side by side, one cost for all, left with the values kept, odd costs told',
      ['lockstep/lockstep.ts'],
      [...RECORD('lockstep'), 'post /lockstep-preview', 'post /costs/proposal'],
      ['/setup/:register?', '/items/:id'],
    ),
    c(
      'Prices that post themselves after costs of a supplier: list by list, within what was said, with every proof held; told and reversible',
      ['proofs/run-proofs.ts'],
      ['put /cost-suppliers/:id/self-posting', 'get /today', 'post /postings/:id/reverse'],
      ['/costs', '/worksheets/:id', '/today'],
    ),
    c(
      'What would fall: by recipe it follows, stays, or waits to be looked at, with the money it means',
      ['guards/guards.ts'],
      ['get /falls', 'post /falls/postings'],
      ['/falls', '/recipes/:id?'],
    ),
    c(
      'What is wrong with the set-up',
      ['checks/check.ts'],
      ['get /findings', 'post /findings/of-change'],
      ['/findings', '/setup/:register?', '/recipes/:id?', '/ladders/:id?'],
    ),
    c(
      'Proofs: checked prices that must come out',
      ['proofs/run-proofs.ts'],
      [...RECORD('proofs'), 'get /findings/proofs'],
      ['/findings', '/price-check'],
    ),
    c('Which markup for this margin, which cost for this price', ['evaluator/goal.ts'], [], [], 'only bin/price'),
  ],
  'Lists, groups, regions': [
    c('Lists with audience, parent, days, channels, pinned rates', ['lists/choose-list.ts'], RECORD('lists'), [
      '/setup/:register?',
      '/lists/:id?',
    ]),
    c(
      'What a list asks on the day: posted, entry, inherited, only for some days',
      ['lists/list-price.ts'],
      ['get /lists/:id/prices'],
      ['/lists/:id?'],
    ),
    c('Entries: exact prices, dated specials, short recipes', ['lists/entries.ts'], RECORD('entries'), [
      '/setup/:register?',
    ]),
    c('Reductions for a customer or a group, narrower before wider', ['lists/entries.ts'], RECORD('reductions'), [
      '/setup/:register?',
    ]),
    c(
      'Customers with several groups, country, attributes; groups with a rank',
      ['lists/buyer.ts'],
      [...RECORD('customers'), ...RECORD('customer-groups'), 'post /customer-groups/:id/copy'],
      ['/setup/:register?'],
    ),
    c('Regions of countries, one inside another, with their tax', ['regions/region.ts'], RECORD('regions'), [
      '/setup/:register?',
    ]),
    c(
      'What anybody would pay, on any day, and why: lists, losers, build-up down to cost',
      ['lists/choose-list.ts'],
      ['post /price-check', 'get /country-of'],
      ['/price-check'],
    ),
    c(
      'Two days of a list compared: what it asked on each, with the rules and prices of then',
      ['lists/price-change.ts'],
      ['get /lists/:id/days'],
      ['/lists/:id/days'],
    ),
    c('Grids out as workbook or text, a list back in with its difference', [], [], ['/lists/:id?', '/items']),
  ],
  Quotes: [
    c(
      'Breaks: whole and sliced, by line, item, pool, section; least, most, step; "n more"',
      ['quotes/breaks.ts', 'quotes/buy-more.ts'],
      RECORD('breaks'),
      ['/setup/:register?', '/quotes/:id'],
    ),
    c('Pools', ['quotes/counting.ts'], RECORD('pools'), ['/setup/:register?']),
    c('Attribute rules in sets', ['quotes/rules/apply-rules.ts'], RECORD('rules'), ['/setup/:register?']),
    c(
      'Floors that lift, ask or refuse; the yes of a second person',
      ['quotes/floors.ts'],
      [...RECORD('floors'), 'post /quotes/:id/decide'],
      ['/quotes/:id'],
    ),
    c(
      'Parts of a quote, proportional charges, a reduction on the whole within the floors',
      ['quotes/charges.ts', 'quotes/quote-reduction.ts'],
      ['put /quotes/:id', 'post /quotes/figures'],
      ['/quotes/:id'],
    ),
    c('What the customer was told, beside the sum', [], ['put /quotes/:id'], ['/quotes/:id']),
    c(
      'Accepted quotes and change orders by the terms of the day they were issued',
      ['quotes/change-orders.ts'],
      ['post /quotes/:id/accept', 'get /quotes/:id/changes', 'post /quotes/:id/changes/issue'],
      ['/quotes/:id/changes'],
    ),
    c('A quote as a PDF', [], ['get /quotes/:id/pdf'], ['/quotes/:id'], 'no other format'),
  ],
  'Making changes safely': [
    c(
      'Prices proposed in the background, by list',
      ['worksheets/propose-price.ts'],
      ['post /worksheets', 'get /worksheets/:id/lists/:list/prices'],
      ['/worksheets', '/worksheets/:id'],
      'prices are not decided or approved one by one',
    ),
    c(
      'A worksheet posted in the background, whole or in shares, lists made from others after them',
      [],
      ['post /worksheets/:id/postings'],
      ['/worksheets/:id'],
    ),
    c(
      'Posting from a list, by day, with reason; reversed whole or in parts',
      ['ledger/was-price.ts'],
      ['post /lists/:id/postings', 'post /postings/:id/reverse'],
      ['/lists/:id?', '/ledger/:id'],
    ),
    c(
      'A second person agrees where a posting moves prices further than its list lets one person decide',
      ['lists/second-person.ts'],
      ['get /posting-requests', 'post /posting-requests/:id/agree', 'post /posting-requests/:id/refuse'],
      ['/ledger', '/ledger/requests/:id'],
      'reversals need none',
    ),
    c('The ledger, and the record of every change', [], ['get /postings', 'get /audit'], ['/ledger']),
    c('Any past day with the rules, costs and prices of then', [], ['get /lists/:id/prices'], ['/lists/:id?']),
    c(
      'What a record was before each change, and back to it',
      [],
      ['get /audit'],
      ['/setup/:register?', '/recipes/:id?', '/ladders/:id?'],
    ),
    c(
      'A change of rules planned for a day to come: prices of that day hold it, it is carried out by itself, what was posted under it stays explained',
      ['workspace/to-come.ts'],
      ['get /changes-to-come', 'post /changes-to-come', 'delete /changes-to-come/:id'],
      ['/changes-to-come', '/setup/:register?', '/recipes/:id?', '/ladders/:id?'],
    ),
    c(
      'The workspace as a file: out, compared, and into an empty database',
      ['evaluator/answer.ts'],
      ['get /workspace-file', 'post /workspace-file/difference'],
      ['/workspace-file'],
    ),
    c('Questions answered from a copy of the database, and how far it lags behind', [], ['get /replica'], ['/today']),
    c('Everything by program, with keys', [], ['get /openapi.json', 'post /me/keys'], ['/api-description', '/account']),
  ],
};

/** docs/capabilities.md. */
export function capabilitiesPage(): string {
  const code = (texts: readonly string[]) => texts.map((t) => `\`${t}\``).join(' ') || '–';
  const out = [
    '# What it can do, and where',
    '',
    'Made from the code (`npm run doc-files`); a test holds every file, address and screen named here to what there is.',
  ];
  for (const [part, rows] of Object.entries(CAPABILITIES)) {
    out.push('', `## ${part}`, '', '| What | Core | API | Screens | Not there yet |', '|---|---|---|---|---|');
    for (const r of rows)
      out.push(
        `| ${r.what} | ${code(r.core)} | ${code(r.api.map((a) => a.replace(/^\w+/, (m) => m.toUpperCase())))} | ${code(r.screens)} | ${r.left ?? ''} |`,
      );
  }
  return `${out.join('\n')}\n`;
}
