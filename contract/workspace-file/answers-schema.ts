import { type TProperties, Type } from '@sinclair/typebox';
import { text, amount, yesNo, orNull, list, oneOf, shape, maybe } from './answer-fields.ts';
import { STEP_KINDS } from '#core/buildup/steps.ts';
import { FINDING_CODES } from '#core/checks/finding.ts';
import { QUESTION_KINDS } from '#core/evaluator/questions.ts';
import { CHARGE_PERIODS } from '#core/quotes/charges.ts';
import { CHANGE_ALERTS } from '#core/quotes/change-orders.ts';
import { FLOOR_OUTCOMES } from '#core/quotes/floors.ts';
import { REASONS } from '#core/reasons.ts';
import { HOLDS } from '#core/worksheets/propose-price.ts';

// What bin/price answers, field by field. Held to the program by evaluator/examples.test.ts; docs/answers.md is made from it.

const FLAG_WORDS = {
  bit: 'a guard changed what the ladder made',
  no_ending_fits: 'no price that the ladder leaves unchanged lies between floor and ceiling: the floor, rounded up',
  floor_above_ceiling: 'a floor lies above a ceiling: the floor wins, and the price is held',
} as const;
export const OUTCOME_WORDS = {
  fine: 'it can be sold as it is',
  asks_approval: 'a floor or a rule asks for a second person’s yes',
  refused: 'a floor, a rule or the reduction on the whole refuses it',
  incomplete: 'a line has no price',
} as const;
const words = (of: Readonly<Record<string, string>>) =>
  Object.entries(of)
    .map(([name, meaning]) => `${name}: ${meaning}`)
    .join('; ');
const flag = oneOf(Object.keys(FLAG_WORDS), words(FLAG_WORDS));

const reason = shape(
  {
    code: oneOf(Object.keys(REASONS), 'which reason; core/reasons.ts words them'),
    path: text('where in the workspace or the question'),
    params: Type.Record(Type.String(), Type.String(), { description: 'the values of the sentence' }),
    otherwise: maybe(
      shape(
        { code: text('which'), params: Type.Record(Type.String(), Type.String()) },
        'what would count without what is in the way',
      ),
    ),
    message: text('the reason as a sentence'),
  },
  'why there is no figure',
);

const step = Type.Object(
  {
    kind: oneOf(STEP_KINDS, 'what the step is'),
    operation: Type.Object({ op: Type.String() }, { description: 'what it does to the figure: it can be done again' }),
    currency: text('of the figure after it'),
    per: text('what the figure is for: cost pack, unit, pack or line'),
    before: orNull(Type.String(), 'the figure before; null: it starts here'),
    after: amount('the figure after'),
  },
  { description: 'a step of the build-up, with the rule behind it, facts, a flag, and candidates that lost' },
);
const buildUp = maybe(list(step, 'with --build-up: every step that leads to the figure'));

const floor = shape(
  {
    id: text('which floor'),
    name: text('its name'),
    outcome: oneOf(FLOOR_OUTCOMES, 'what it does with the line'),
    least: amount('the least unit price, as the list shows it, rounded up to its decimals'),
    short: amount('how far the price was under it'),
  },
  'the floor that is broken and counts',
);

const struck = shape(
  {
    rule: text('the rule that proposes it'),
    price: orNull(Type.String(), 'the earlier price, as the list shows it'),
    lowest: orNull(Type.String(), 'the lowest posted in the 30 days before'),
    on: orNull(Type.String(), 'the first of these days on which it was in force'),
    shown: yesNo('whether it may be shown: only what is true and higher'),
    why: orNull(Type.String(), 'why not'),
  },
  'an earlier price to be struck beside the price',
);

const line = {
  list: text('the list that gave the price'),
  listPrice: amount('what it asks without what is only for some days, per pack'),
  unitPrice: amount('per pack, as the list shows it; of slices the average'),
  total: amount('of the line, to the currency’s minor unit'),
  netTotal: amount('of the line, without tax and deposit'),
  shareOfReduction: maybe(amount('of a reduction on the whole quote')),
  freeUnits: maybe(amount('units that cost nothing but their deposit')),
  costTotal: orNull(Type.String(), 'landed cost of the line; null: not known'),
  markup: orNull(Type.String(), 'achieved, per cent of cost'),
  margin: orNull(Type.String(), 'achieved, per cent of price'),
  profit: orNull(Type.String(), 'net total less landed cost'),
  dearerThanUsual: maybe(amount('the usual price, where a dated entry stands that is dearer')),
  struck: maybe(struck),
  slices: maybe(
    list(
      shape({
        from: amount('where it begins, in what the table measures'),
        quantity: amount('packs'),
        price: amount('per pack'),
      }),
      'sliced breaks: every slice with its price',
    ),
  ),
  breaksOf: maybe(text('the list whose breaks count, where the price is taken from another')),
  buyMore: maybe(shape({ buy: amount('packs more'), saves: amount('in all') }, 'where more would cost less in all')),
  floor: orNull(floor, 'null: no floor is broken'),
  floorsNotApplied: maybe(
    list(
      shape({ id: text('which'), name: text('its name'), why: text('why not') }),
      'floors that reach the line and cannot be worked out',
    ),
  ),
  asks: maybe(list(Type.String(), 'rules that ask for approval')),
  refused: maybe(list(reason, 'floors and rules that refuse the line')),
};

const tax = shape({ percent: amount('the rate'), net: amount('taxed at it'), tax: amount('rounded once per rate') });

const charge = shape({
  id: text('unique on the quote'),
  name: text('as the line is called'),
  kind: oneOf(['proportional', 'rule'], 'a share of other lines, or added by a rule'),
  total: amount('as the list shows prices'),
  net: amount('without tax'),
  covered: orNull(Type.String(), 'net total of what it covers; null: a rule’s'),
  taxPercent: amount('its rate'),
  period: maybe(oneOf(CHARGE_PERIODS, 'what rate, least and most are for')),
  periods: maybe(amount('how many of them the total is for')),
  buildUp,
});

const quote = {
  currency: text('of all amounts'),
  taxIn: yesNo('whether prices are shown with tax in'),
  list: text('the list whose currency and tax display the quote has'),
  lines: list(
    Type.Unsafe<unknown>({
      anyOf: [
        shape({ id: text('of the line'), ok: Type.Literal(true), ...line, buildUp }),
        shape({ id: text('of the line'), ok: Type.Literal(false), reason }),
      ],
    }),
    'in the order of the question',
  ),
  charges: list(charge, 'lines that are no item'),
  reduction: orNull(
    shape({
      asked: amount('what was asked'),
      given: amount('what the lines give'),
      possible: amount('what they can give without breaking a floor'),
      refused: orNull(reason, 'why it is not given'),
    }),
    'a reduction on the whole quote',
  ),
  linesTotal: amount('lines and charges, as the list shows them'),
  taxes: list(tax, 'by rate'),
  net: amount('without tax'),
  toPay: amount('with tax'),
  margin: orNull(Type.String(), 'over the lines whose cost is known'),
  profit: orNull(Type.String(), 'net sales less landed cost over the same lines'),
  outcome: oneOf(Object.keys(OUTCOME_WORDS), words(OUTCOME_WORDS)),
};

const part = {
  id: text('which part'),
  name: text('its name'),
  was: amount('before this document'),
  now: amount('with it'),
  charged: amount('by all earlier documents'),
  difference: amount('what this document asks; below 0: gives back'),
  notCredited: amount('what would be given back and stays charged'),
};

const ANSWERS: Readonly<Record<(typeof QUESTION_KINDS)[number], TProperties>> = {
  price: {
    ...line,
    quantity: amount('in packs'),
    currency: text('of all amounts'),
    taxIn: yesNo('whether prices are shown with tax in'),
    net: amount('without tax'),
    tax: amount('on it'),
    toPay: amount('with tax'),
    charges: maybe(list(charge, 'what rules add to the line as charges of their own; net, tax and toPay hold them')),
    outcome: quote.outcome,
    buildUp,
  },
  recipe: {
    price: amount('proposed, per pack, as the list shows it'),
    currency: text('of the list'),
    taxIn: yesNo('whether the list shows tax in'),
    net: amount('without tax and deposit'),
    taxInPrice: amount('contained in the price'),
    cost: orNull(Type.String(), 'landed, per pack; null: not known'),
    markup: orNull(Type.String(), 'achieved, per cent of cost'),
    margin: orNull(Type.String(), 'achieved, per cent of price'),
    profit: orNull(Type.String(), 'net less cost'),
    exact: shape(
      { markup: orNull(Type.String(), 'in 34 digits'), margin: orNull(Type.String(), 'in 34 digits') },
      'the same, not rounded',
    ),
    recipe: shape({ id: text('which'), name: text('its name') }, 'the recipe that counts for the item'),
    row: shape({ id: text('which'), name: text('what it is tied to') }, 'the uplift row that won'),
    uplift: text('the same in words'),
    flag: orNull(flag, 'null: no guard changed the price'),
    guards: list(Type.String(), 'the guards that bit, the binding one first'),
    limits: list(
      shape({ id: text('which'), name: text('in words'), at: amount('as the buyer sees it') }),
      'the same with id and figure',
    ),
    notApplied: list(
      shape({ id: text('which'), name: text('in words'), why: text('what the item lacks') }),
      'guards that cannot be applied to the item',
    ),
    wouldFallTo: orNull(Type.String(), 'what "raise only" keeps it from falling to'),
    handSet: orNull(
      shape({
        reason: text('why it was set'),
        by: text('who'),
        recipePrice: amount('what the recipe makes'),
        squeezed: yesNo('it leaves less than the recipe aims at'),
      }),
      'a typed price that stands',
    ),
    posted: orNull(Type.String(), 'in force on the day'),
    changePercent: orNull(Type.String(), 'from the posted price'),
    holds: list(oneOf(HOLDS, 'why the price waits'), 'why the price waits until a person has looked'),
    buildUp,
  },
  cost: {
    landed: amount('one unit with freight, duty, handling and overhead'),
    unit: amount('one unit, bare'),
    currency: text('of the workspace'),
    supplier: text('whose cost counts'),
    cost: text('which of its costs'),
    buildUp,
  },
  quote,
  changes: {
    currency: text('of all amounts'),
    documents: list(
      shape({
        id: text('"accepted", or that of the change'),
        day: text('of the document'),
        lines: list(
          shape({
            id: text('of the line'),
            was: amount('before'),
            now: amount('with it'),
            difference: amount('between them'),
          }),
          'line by line',
        ),
        goods: shape(part, 'all lines that are no proportional charge'),
        reductionCarried: maybe(
          shape({
            amount: amount('given first'),
            onGoods: amount('the goods it was given on'),
            sharePercent: amount('of them'),
            now: amount('the same share of the goods as they are'),
          }),
        ),
        charges: list(shape({ ...part, covered: amount('net total of what it covers'), buildUp }), 'each by itself'),
        tax: amount('of this document'),
        toPay: amount('with this document'),
        toPayInAll: amount('all documents up to it'),
        alerts: list(
          shape({ alert: oneOf(CHANGE_ALERTS, 'what to look at'), part: text('of which part') }),
          'what a person should look at',
        ),
        state: shape(quote, 'the quote as it then is'),
      }),
      'the accepted quote, then every change',
    ),
  },
  ladder: {
    prices: list(
      shape({ before: amount('asked'), after: amount('rounded'), change: amount('between them') }),
      'in the order of the question',
    ),
  },
  was: {
    was: amount('the lowest posted in the 30 days before'),
    currency: text('of the list'),
    on: text('the first of these days on which it was in force'),
    posting: text('that posted it'),
    announcedTooHigh: orNull(Type.Boolean(), 'whether the announced price is above it'),
    excessPercent: maybe(Type.Unsafe<unknown>({ type: ['string', 'null'], description: 'by how much' })),
  },
  check: {
    findings: list(
      shape({
        code: oneOf(FINDING_CODES, 'which; core/checks/finding.ts words them'),
        message: text('in words'),
        places: list(Type.String(), 'paths into the workspace'),
        items: Type.Integer({ description: 'how many it touches' }),
        customers: maybe(Type.Integer({ description: 'how many it touches' })),
        example: Type.Record(Type.String(), Type.String(), { description: 'one case with its figures' }),
      }),
      'what is wrong with the set-up',
    ),
  },
  rules: {
    reached: Type.Record(Type.String(), Type.Integer(), { description: 'how many items every rule reaches' }),
    items: list(
      shape({
        item: text('which'),
        rules: list(Type.String(), 'that hold'),
        before: amount('them'),
        after: amount('them'),
        unitPrice: amount('asked'),
      }),
      'every item with a price',
    ),
    withoutPrice: Type.Integer({ description: 'items that have none' }),
  },
  prices: {
    day: text('asked'),
    rows: list(
      shape({
        list: text('which'),
        item: text('which'),
        pack: text('which'),
        price: orNull(Type.String(), 'as the list shows it; null: there is none'),
        markup: orNull(Type.String(), 'achieved, per cent of cost'),
        margin: orNull(Type.String(), 'achieved, per cent of price'),
        flag: maybe(flag),
        guards: maybe(list(Type.String(), 'the guards that bit, in no order')),
        wouldFallTo: maybe(amount('what "raise only" keeps it from falling to')),
        reason: maybe(shape({ code: text('which'), message: text('as a sentence') }, 'why there is no price')),
        buildUp,
      }),
      'every item and pack, list by list',
    ),
  },
  goal: {
    markup: maybe(amount('the smallest in steps of 0.01 % that reaches the margin, in place of every uplift')),
    margin: orNull(Type.String(), 'reached, per cent of price'),
    net: maybe(amount('of all that is sold')),
    profit: maybe(amount('net less cost')),
    cost: maybe(amount('landed, of all that is sold; or the most that the price can bear, per cost pack')),
    costCurrency: maybe(text('of the cost sought')),
    packUnits: maybe(amount('units in its cost pack')),
    landed: maybe(orNull(Type.String(), 'one unit at it')),
    price: maybe(amount('the recipe makes of it')),
    next: maybe(orNull(Type.String(), 'price at a cost of one smallest unit more')),
    currency: text('of the list'),
    prices: maybe(
      list(shape({ item: text('which'), pack: text('which'), price: amount('at the markup') }), 'what is sold'),
    ),
  },
  proofs: {
    passed: Type.Integer({ description: 'how many hold' }),
    failed: Type.Integer({ description: 'how many do not' }),
    proofs: list(
      Type.Object(
        {
          id: text('which'),
          name: text('its name'),
          holds: yesNo('whether it does'),
          expected: Type.Object({}, { description: 'what the proof says' }),
          actual: Type.Object({}, { description: 'what came out' }),
          firstDifference: orNull(Type.Object({}), 'the first step that left the known run'),
        },
        { additionalProperties: false },
      ),
      'each',
    ),
  },
};

const head = (kind: string) => ({
  id: maybe(text('that of the question')),
  kind: Type.Unsafe<string>({ type: 'string', const: kind, description: 'that of the question' }),
});

/** The answers of bin/price: a list, one for each question. */
export const answersSchema = {
  $id: 'hard-ledger-answers',
  title: 'Hard Ledger answers',
  type: 'array',
  description: 'a list of answers, in the order of the questions',
  items: {
    anyOf: [
      ...QUESTION_KINDS.map((kind) => shape({ ...head(kind), ok: Type.Literal(true), ...ANSWERS[kind] }, kind)),
      shape(
        { id: head('').id, kind: oneOf(QUESTION_KINDS, 'that of the question'), ok: Type.Literal(false), reason },
        'no answer',
      ),
    ],
  },
};
