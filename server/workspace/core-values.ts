/** Values of columns, as the core has them. */
export const id = (n: number): string => String(n);

export function amountOf(amount: string | null, currency: string | null): { amount: string; currency: string } | null {
  return amount !== null && currency !== null ? { amount, currency } : null;
}
