/** Items that always share cost, packs, tax, deposit and prices; the lead is the one they follow. */
export interface LockstepGroup {
  readonly id: string;
  readonly version: number;
  readonly name: string;
  readonly lead: string;
  /** Without the lead. */
  readonly members: readonly string[];
}
