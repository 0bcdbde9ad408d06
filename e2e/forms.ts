import type { Visitor } from './application.ts';

export type Picked = [typed: string, shown: string];
interface Asked {
  customer?: Picked;
  group?: Picked;
  country?: Picked;
  channel?: string;
  item: Picked;
  quantity?: string;
  /** Another day than today. */
  day?: string;
}

/** The forms under Setup and the price check, as one person goes through them. */
export function formsOf(person: () => Visitor) {
  const fresh = async (register: string, one: string) => {
    await person().go(`/setup/${register}?open=new`);
    await person().reads(`New ${one}`);
  };
  const keep = async () => {
    await person().click('button', 'Keep');
    await person().reads('Kept.');
  };
  const tick = async (label: string) => {
    const box = await person().page.waitForSelector(`::-p-aria([name="${label}"][role="checkbox"])`);
    await box!.click();
  };
  const tie = async (what: string, label: string, text: string, shown: string) => {
    await person().choose(`select[aria-label="Tie to, ${label}"]`, what);
    await person().pick(`${what}, ${label}`, text, shown);
  };
  /** What a price check says one would pay, and the page. */
  const check = async (q: Asked): Promise<{ price: string; text: string }> => {
    const who = person();
    await who.go(q.day ? `/price-check?day=${q.day}` : '/price-check');
    if (q.customer) await who.pick('Customer', ...q.customer);
    if (q.group) await who.pick('Group', ...q.group);
    if (q.country) await who.pick('Country', ...q.country);
    if (q.channel) await who.fill('Channel', q.channel, '[role="combobox"]');
    await who.pick('Item: code or name', ...q.item);
    if (q.quantity) await who.fill('Quantity', q.quantity, '[role="textbox"]');
    await who.reads('Which list');
    const text = await who.reads(/\d\.\d\d [A-Z]{3} (per \w+|each)/);
    return { price: /([\d,]+\.\d+) [A-Z]{3} (?:per \w+|each)/.exec(text)![1]!, text };
  };
  /** The workspace's day. */
  const today = (): Promise<string> =>
    person().page.evaluate(() =>
      fetch('/api/session')
        .then((r) => r.json())
        .then((s: { workspace: { today: string } }) => s.workspace.today),
    );
  return { fresh, keep, tick, tie, check, today };
}
