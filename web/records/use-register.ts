import type { PlainBody, PlainName } from '#contract/records/plain.ts';
import type { Recorded } from '#contract/setup.ts';
import type { DatedLandedTerms } from '#core/costs/cost.ts';
import type { AttributeTerms, Named } from '#core/items/described.ts';
import type { LockstepGroup } from '#core/lockstep/group.ts';
import type { ProportionalCharge } from '#core/quotes/charges.ts';
import type { Region } from '#core/regions/region.ts';
import { recordsApi } from './endpoints.ts';

/** What records of declared kinds hold, where a screen reads them by their fields. */
interface Kinds {
  readonly attributes: AttributeTerms;
  readonly brands: Named;
  readonly taxClasses: Named;
  readonly charges: ProportionalCharge;
  readonly landed: DatedLandedTerms;
  readonly lockstep: LockstepGroup;
  readonly regions: Region;
}
type Register = PlainName | keyof Kinds;
export type RowOf<N extends Register> = N extends PlainName
  ? Recorded<PlainBody<N>>
  : N extends keyof Kinds
    ? Kinds[N]
    : never;

/** Everything a register holds, with the fields that its declaration has; none while it is still asked for. */
export function useRegister<N extends Register>(name: N, options: { skip?: boolean } = {}) {
  const { data, error, isLoading } = recordsApi.useRegisterQuery(name, options);
  return { rows: (data ?? NONE) as unknown as readonly RowOf<N>[], error, isLoading };
}
const NONE: readonly never[] = [];
