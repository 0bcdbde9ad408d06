import type { ScopeIndex } from '../items/scope.ts';
import type { ListsView } from '../lists/view.ts';
import type { BreaksView, Pool } from './breaks.ts';
import type { ProportionalCharge } from './charges.ts';
import type { FloorTerms } from './floors.ts';
import type { RuleSet } from './rules/rule.ts';

/** What is looked up to price a quote. */
export interface QuotesView extends ListsView, BreaksView {
  readonly workspace: ListsView['workspace'] & { readonly rules: readonly RuleSet[] };
  readonly suppliers: ListsView['suppliers'];
  readonly floors: ScopeIndex<FloorTerms>;
  readonly pools: ReadonlyMap<string, Pool>;
  readonly charges: ReadonlyMap<string, ProportionalCharge>;
}
