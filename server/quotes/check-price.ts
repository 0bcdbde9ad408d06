import type { PriceCheck, PriceCheckBody } from '#contract/quotes.ts';
import { buyerOf } from '#core/lists/buyer.ts';
import { chooseList, listsMeantFor } from '#core/lists/choose-list.ts';
import { buildUpOf } from '../lists/build-up.ts';
import type { Db } from '../platform/database.ts';
import { refusedFor } from '../platform/refused.ts';
import type { Loaded } from '../workspace/state.ts';
import { figuresOfNoList, quoteFigures } from './figures.ts';

/** What a customer, a group or anybody would pay for a pack on a day, with the lists that were looked at. */
export async function checkPrice(db: Db, loaded: Loaded, body: PriceCheckBody, showCost: boolean): Promise<PriceCheck> {
  const { ws, day } = loaded;
  const { customer, country, channel } = body;
  const asked = { customer, country, channel, groups: body.group === null ? null : [body.group] };
  const buyer = buyerOf(ws, asked);
  if (!buyer.ok) throw refusedFor(buyer.reason);
  const { candidates, leftOut } = listsMeantFor(ws, buyer.value, day);
  const question = { id: '0', item: body.item, pack: body.pack, quantity: body.quantity, reduction: null };
  const chosen = chooseList(ws, buyer.value, day);
  const figures = chosen.ok
    ? quoteFigures(ws, { list: null, buyer: asked, day, lines: [question] })
    : figuresOfNoList(ws, question, chosen.reason);
  const line = figures.lines[0]!;
  const winner =
    line.unitPrice === null
      ? null
      : line.otherList === null
        ? candidates[0]!
        : (candidates.find((c) => c.list.name === line.otherList) ?? null);
  // what the first price step lost against, by the name of the list
  const lost = new Map(line.steps.flatMap((s) => s.lost ?? []).map((l) => [l.name, l.why]));
  const behind =
    showCost && winner ? (await buildUpOf(db, loaded, winner.list.id, body.item, body.pack, true)).postedSteps : null;
  return {
    list: winner && { id: winner.list.id, name: winner.list.name, why: winner.why },
    candidates: candidates.map((c) => ({
      name: c.list.name,
      why: c === winner ? c.why : (lost.get(c.list.name) ?? c.why),
      wins: c === winner,
    })),
    leftOut: leftOut.map(({ name, why }) => ({ name, why })),
    region: buyer.value.region === null ? null : (ws.regions.get(buyer.value.region)?.name ?? null),
    figures,
    behind,
  };
}
