import type { Workspace } from './workspace.ts';

/** A workspace in EUR with nothing in it: the start of every test and of an empty installation. */
export function emptyWorkspace(): Workspace {
  return {
    currency: 'EUR',
    supplierChoice: 'preferred',
    listChoice: 'first',
    items: [],
    suppliers: [],
    landed: [],
    costs: [],
    rates: [],
    categories: [{ id: 'all', name: 'All', parent: null }],
    taxes: [],
    ladders: [],
    recipes: [],
    lists: [],
    groups: [],
    customers: [],
    posted: [],
    breaks: [],
    floors: [],
    regions: [],
    lockstep: [],
    reductions: [],
    pools: [],
    rules: [],
    charges: [],
    proofs: [],
    attributes: [],
    brands: [],
    taxClasses: [],
  };
}
