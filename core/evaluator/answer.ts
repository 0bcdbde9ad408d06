import { checkWorkspace } from '../checks/check.ts';
import type { Dec } from '../numbers/decimal.ts';
import { runProofs } from '../proofs/run-proofs.ts';
import { type ChainDocument, type Part, priceChain } from '../quotes/change-orders.ts';
import { type Outcome, type Reason, figure } from '../reasons.ts';
import type { Prepared } from '../workspace/prepared.ts';
import {
  type Build,
  type Figures,
  type Found,
  answerCost,
  answerLadder,
  answerPrice,
  answerQuote,
  answerRecipe,
  answerWas,
  quoteFigures,
  quoteFloor,
} from './answer-price.ts';
import { answerGoal } from './goal.ts';
import { explainedPrices, listPrices, pricedLists } from './list-prices.ts';
import { tryRules } from './try-rules.ts';
import type { ChangesAsked, ProvableQuestion, Question } from './questions.ts';
import { type ReasonAnswer, exactText, percentText, reasonAnswer, totalText } from './wording.ts';

/** An answer as it is written; a question without one says why. */
export type Answer =
  | Readonly<{ id?: string; kind: Question['kind']; ok: true } & Figures>
  | { readonly id?: string; readonly kind: Question['kind']; readonly ok: false; readonly reason: ReasonAnswer };

export interface AnswerOptions {
  /** With the steps that lead to every figure. */
  readonly buildUp: boolean;
}

/** Answers one question on a workspace. The same question on the same workspace always has the same answer. */
export function answer(ws: Prepared, q: Question, options: AnswerOptions): Answer {
  const head = { ...(q.id === undefined ? {} : { id: q.id }), kind: q.kind };
  const build: Build = (steps) => (options.buildUp ? { buildUp: steps } : {});
  const found = figuresFor(ws, q, build, options.buildUp);
  return found.ok
    ? { ...head, ok: true, ...found.value }
    : { ...head, ok: false, reason: reasonAnswer(found.reason as Reason) };
}

/** Whether an answer stands for exit code 0: it has figures, and no proof in it fails. */
export function answered(a: Answer): boolean {
  return a.ok && !(a.kind === 'proofs' && a['failed'] !== 0);
}

function figuresFor(ws: Prepared, q: Question, build: Build, buildUp: boolean): Outcome<Figures> {
  switch (q.kind) {
    case 'ladder':
      return answerLadder(ws, q);
    case 'was':
      return answerWas(ws, q);
    case 'check':
      return figure({ findings: checkWorkspace(ws, q.day) });
    case 'rules':
      return tryRules(ws, q);
    case 'goal':
      return answerGoal(ws, q);
    case 'prices': {
      const lists = pricedLists(ws, q);
      const rows = buildUp ? explainedPrices : listPrices;
      return lists.ok ? figure({ day: q.day, rows: [...rows(ws, lists.value, q)] }) : lists;
    }
    case 'proofs':
      return figure({ ...runProofs(ws, (question) => evaluate(ws, question)) });
    default: {
      const found = evaluate(ws, q, build);
      if (!found.ok) return found;
      const whole = q.kind === 'quote' || q.kind === 'changes';
      return figure(whole ? found.value.figures : { ...found.value.figures, ...build(found.value.steps) });
    }
  }
}

/** The figures of a question that a proof can keep. */
function evaluate(ws: Prepared, q: ProvableQuestion, build: Build = () => ({})): Outcome<Found> {
  switch (q.kind) {
    case 'price':
      return answerPrice(ws, q, build);
    case 'recipe':
      return answerRecipe(ws, q);
    case 'cost':
      return answerCost(ws, q);
    case 'quote':
      return answerQuote(ws, q, build);
    case 'changes':
      return answerChanges(ws, q, build);
  }
}

function answerChanges(ws: Prepared, q: ChangesAsked, build: Build): Outcome<Found> {
  const chain = priceChain(ws, withPacks(ws, q));
  if (!chain.ok) return chain;
  const last = chain.value.at(-1)!;
  const { currency } = last.state;
  return figure({
    figures: { currency, documents: chain.value.map((d) => documentFigures(ws, d, build)) },
    price: totalText(last.toPayInAll, currency),
    floor: quoteFloor(last.state),
    steps: last.charges.flatMap((c) => c.steps),
  });
}

function withPacks(ws: Prepared, q: ChangesAsked): ChangesAsked {
  const named = <T extends { item: string; pack: string }>(line: T): T => {
    const item = ws.items.get(line.item);
    const pack = item?.packs.find((p) => p.id === line.pack) ?? item?.packs.find((p) => p.name === line.pack);
    return pack ? { ...line, pack: pack.id } : line;
  };
  return {
    ...q,
    accepted: { unposted: 'compute', ...q.accepted, lines: q.accepted.lines.map(named) },
    changes: q.changes.map((c) => ({ ...c, lines: c.lines.map(named) })),
  };
}

function documentFigures(ws: Prepared, d: ChainDocument, build: Build): Figures {
  const { currency } = d.state;
  const money = (value: Dec) => totalText(value, currency);
  const part = (p: Part) => ({
    id: p.id,
    name: p.name,
    was: money(p.was),
    now: money(p.now),
    charged: money(p.charged),
    difference: money(p.difference),
    notCredited: money(p.notCredited),
  });
  return {
    id: d.id,
    day: d.day,
    lines: d.lines.map((l) => ({ id: l.id, was: money(l.was), now: money(l.now), difference: money(l.difference) })),
    goods: part(d.goods),
    ...(d.reductionCarried
      ? {
          reductionCarried: {
            amount: money(d.reductionCarried.amount),
            onGoods: money(d.reductionCarried.onGoods),
            sharePercent: percentText(d.reductionCarried.share),
            now: money(d.reductionCarried.now),
          },
        }
      : {}),
    charges: d.charges.map((c) => ({ ...part(c), covered: exactText(c.covered), ...build(c.steps) })),
    tax: money(d.tax),
    toPay: money(d.toPay),
    toPayInAll: money(d.toPayInAll),
    alerts: d.alerts,
    state: quoteFigures(ws, d.state, build),
  };
}
