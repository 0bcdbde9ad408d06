import type { ListsView } from './view.ts';
import type { PriceList } from './price-list.ts';

/**
 * The lists whose prices decide what a list's recipes make: those that one of its recipes starts from, and of these again
 * their own and the parents from which they take what they have no price for. Without the list itself; a circle ends.
 */
export function listsBehind(ws: ListsView, list: PriceList): PriceList[] {
  const found: PriceList[] = [];
  const look = (at: PriceList): void => {
    const recipes = [at.recipe, ...(at.recipes ?? []).map((tie) => tie.recipe)];
    const from = recipes.map((id) => {
      const basis = ws.recipes.get(id ?? '')?.basis;
      return basis?.kind === 'list' ? basis.list : null;
    });
    for (const id of [...from, at === list ? null : at.parent?.list]) {
      const next = ws.lists.get(id ?? '');
      if (!next || next === list || found.includes(next)) continue;
      found.push(next);
      look(next);
    }
  };
  look(list);
  return found;
}
