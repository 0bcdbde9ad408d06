import { screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { pack } from '#contract/packed.ts';
import { type RecipeBody, recipeBody, recipeTerms } from '#contract/recipes.ts';
import { BulkWorkspace } from '#core/bulk/bulk-prices.ts';
import { Prepared } from '#core/workspace/prepared.ts';
import { LARGE_DAY, largeWorkspace } from '#demo/large-workspace.ts';
import { choose } from '../tests/choose.ts';
import { Bytes, Refusal, type Sent, visit } from '../tests/visit.tsx';
import { TrialSession } from './trial-session.ts';
import type { FromWorker, ToWorker } from './trial-worker.ts';

/** jsdom has no workers: the same session, answering a turn later. */
class SameThreadWorker {
  private readonly session = new TrialSession();
  onmessage: ((event: { data: FromWorker }) => void) | null = null;
  onerror: (() => void) | null = null;
  postMessage(data: ToWorker): void {
    queueMicrotask(() => {
      if (data.kind === 'load') this.session.load(data.bytes, data.first);
      else this.onmessage?.({ data: { turn: data.turn, effect: this.session.effect(data.recipe, data.against) } });
    });
  }
  terminate(): void {
    this.onmessage = null;
  }
}
beforeEach(() => vi.stubGlobal('Worker', SameThreadWorker));
afterEach(() => vi.unstubAllGlobals());

const large = largeWorkspace(80, 1);
const w = { ...large, ladders: large.ladders.map((l) => ({ ...l, id: '1' })) };
const kept: RecipeBody = {
  name: 'Counter',
  basis: { kind: 'landed' },
  ladder: '1',
  uplift: [{ id: '1', scope: {}, method: 'markup', value: '60' }],
  guards: [],
};
/** What the server does: makes the list ready with the draft. */
const trial = (s: Sent) => {
  const read = recipeBody.cast((s.body as { recipe: RecipeBody }).recipe) as RecipeBody;
  const recipe = recipeTerms(read, { id: 'draft', version: 0 });
  const list = { ...w.lists[0]!, recipe: 'draft' };
  const bulk = new BulkWorkspace(new Prepared({ ...w, recipes: [recipe], lists: [list] }), LARGE_DAY);
  const { rows, day: _, ...figures } = bulk.columns;
  const skus = rows.map((r) => `S-${r.item}`);
  return new Bytes(
    pack({ figures, list: bulk.list(list), recipe, decimals: 2, currency: 'EUR', skus, names: skus })
      .buffer as ArrayBuffer,
  );
};
const answers = {
  'GET /recipes': [{ ...kept, id: '7', version: 3 }],
  'GET /lists': [{ id: '4', version: 1, name: 'Counter', recipe: '7' }],
  'POST /lists/4/trial': trial,
};
const markup = () => screen.findByRole('textbox', { name: 'Markup per cent, row 1' });
const sums = () => screen.getByRole('status').textContent;

describe('a recipe that is tried while it is typed', () => {
  it('shows at every change how many prices move, without asking the server again', async () => {
    const user = userEvent.setup();
    const sent = visit('/recipes/7', answers);
    await user.click(await screen.findByRole('button', { name: 'Try it on every price' }));
    await waitFor(() => expect(sums()).toContain('stay80'));
    await user.clear(await markup());
    await user.type(await markup(), '90');
    await waitFor(() => expect(sums()).toMatch(/rise[5-8]\d/));
    expect(screen.getByText('largest rises')).toBeInTheDocument();
    await user.clear(await markup());
    await user.type(await markup(), '30');
    await waitFor(() => expect(sums()).toMatch(/fall[5-8]\d/));
    expect(sent.map((s) => s.path)).toEqual(['/lists/4/trial']);
  });

  it('asks the server where a row reaches other items, and holds the answer against the kept recipe', async () => {
    const user = userEvent.setup();
    const sent = visit('/recipes/7', answers);
    await user.click(await screen.findByRole('button', { name: 'Try it on every price' }));
    await waitFor(() => expect(sums()).toContain('stay80'));
    await user.click(screen.getByRole('button', { name: /^Take away .*, Ladder$/ }));
    await waitFor(() => expect(sent).toHaveLength(2));
    await waitFor(() => expect(sums()).not.toContain('stay80'));
    expect(sums()).toContain('against the kept recipe');
  });

  it('can be held against what is posted', async () => {
    const user = userEvent.setup();
    visit('/recipes/7', answers);
    await user.click(await screen.findByRole('button', { name: 'Try it on every price' }));
    await user.click(await screen.findByRole('button', { name: 'against the posted prices' }));
    await waitFor(() => expect(sums()).toContain('had none before80'));
  });

  it('tries an add-on by weight as the server reads it, and does not ask for it for ever', async () => {
    const user = userEvent.setup();
    const sent = visit('/recipes/7', answers);
    await user.click(await screen.findByRole('button', { name: 'Try it on every price' }));
    await waitFor(() => expect(sums()).toContain('stay80'));
    await user.click(screen.getByRole('button', { name: 'one more add-on' }));
    await user.type(screen.getByRole('textbox', { name: 'Name, add-on 1' }), 'Carriage');
    await choose(user, screen.getByRole('combobox', { name: 'What it is, add-on 1' }), 'an amount by weight');
    await user.click(screen.getByRole('button', { name: 'one more weight band' }));
    await user.type(screen.getByRole('textbox', { name: 'from, weight band 1, add-on 1' }), '0');
    const tried = () => sent.filter((s) => s.path === '/lists/4/trial').length;
    const before = tried();
    await user.type(screen.getByRole('textbox', { name: 'amount per pack, weight band 1, add-on 1' }), '9');
    await waitFor(() => expect(sums()).toMatch(/rise[5-8]\d/));
    // one that was asked for before the pause ended may still have been on its way
    expect(tried() - before).toBeLessThan(3);
  });

  it('says why a list cannot be tried', async () => {
    const user = userEvent.setup();
    const message = 'Counter cannot be tried at once with this recipe: a worksheet computes its prices one by one.';
    visit('/recipes/7', {
      ...answers,
      'POST /lists/4/trial': new Refusal(422, { code: 'not_tried_at_once', message }),
    });
    await user.click(await screen.findByRole('button', { name: 'Try it on every price' }));
    expect(await screen.findByText(message)).toBeInTheDocument();
  });

  it('leaves the last answer while what is typed is no recipe', async () => {
    const user = userEvent.setup();
    visit('/recipes/7', answers);
    await user.click(await screen.findByRole('button', { name: 'Try it on every price' }));
    await waitFor(() => expect(sums()).toContain('stay80'));
    await user.clear(await markup());
    expect(sums()).toContain('stay80');
  });
});
