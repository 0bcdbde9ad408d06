/** An amount and its currency; the two never part. The amount is an exact decimal as text. */
export interface AmountText {
  readonly amount: string;
  readonly currency: string;
}
