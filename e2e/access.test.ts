import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import type { AxeResults } from 'axe-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Visitor, startApplication } from './application.ts';

const axe = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');
let app: Awaited<ReturnType<typeof startApplication>>;
let marit: Visitor;
beforeAll(async () => {
  app = await startApplication();
  marit = await Visitor.arrive(app.browser, app.address);
  await marit.page.setBypassCSP(true);
  await marit.signIn('marit');
});
afterAll(() => app.stop());

const VIEWS: readonly [path: string, text: string | RegExp][] = [
  ['/today', 'Costs that arrived'],
  ['/costs', 'Costs follow by themselves'],
  ['/costs/39', 'need a look'],
  ['/setup/exchange-rates', 'How it went'],
  ['/bills/2', 'price corrected'],
  ['/items', /\d+ items/],
  ['/items/23', 'Rules that reach it'],
  ['/recipes/1', 'Keep the recipe'],
  ['/ladders/1', 'Try it'],
  ['/lists/1', /\d+ prices/],
  ['/worksheets', 'costs of the last weeks'],
  ['/findings', 'For example'],
  ['/setup/rules', 'Cut lengths'],
  ['/worksheets/1?list=1&shows=all', 'posted, EUR'],
  ['/quotes/17', 'to pay'],
  ['/quotes/40', 'Charges: a share of the lines'],
  ['/quotes/34/changes', 'all documents together'],
  ['/ledger', 'postings of prices'],
  ['/setup/suppliers', 'Kelwick'],
  ['/account', 'Access keys'],
  ['/api-description?of=postPriceCheck', 'What is answered'],
  ['/changes-to-come', 'Kelwick raises its freight'],
  ['/ledger/requests/1', 'BO-TEL-24'],
  ['/recipes/5', 'agreed with the staff'],
  ['/workspace-file', 'Hold a file against what is here'],
];

describe('everybody can use it, on light and on dark paper', () => {
  it.each(VIEWS)('%s', async (path, text) => {
    await marit.go(path);
    await marit.reads(text);
    await marit.page.evaluate(axe);
    for (const theme of ['light', 'dark']) {
      await marit.page.evaluate(`document.documentElement.dataset.theme = '${theme}'`);
      const found = (await marit.page.evaluate(
        "axe.run({ runOnly: ['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa'] })",
      )) as AxeResults;
      const said = found.violations.map(
        (v) =>
          `${v.id}: ${v.nodes
            .slice(0, 2)
            .map((n) => `${n.html.slice(0, 160)} ${n.failureSummary?.slice(0, 200)}`)
            .join(' | ')}`,
      );
      expect([theme, said]).toEqual([theme, []]);
    }
  });
});
