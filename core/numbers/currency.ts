/** Minor units after ISO 4217 where they are not 2. Source: ISO 4217 list one. */
const MINOR_UNITS: Readonly<Record<string, number>> = {
  BIF: 0,
  CLP: 0,
  DJF: 0,
  GNF: 0,
  ISK: 0,
  JPY: 0,
  KMF: 0,
  KRW: 0,
  PYG: 0,
  RWF: 0,
  UGX: 0,
  UYI: 0,
  VND: 0,
  VUV: 0,
  XAF: 0,
  XOF: 0,
  XPF: 0,
  BHD: 3,
  IQD: 3,
  JOD: 3,
  KWD: 3,
  LYD: 3,
  OMR: 3,
  TND: 3,
  CLF: 4,
  UYW: 4,
};

/** Decimals of the currency's minor unit: JPY 0, EUR 2, KWD 3. */
export function minorUnits(currency: string): number {
  return MINOR_UNITS[currency] ?? 2;
}

let known: ReadonlySet<string> | null = null;

/** Whether a currency of this ISO 4217 code exists. */
export function isKnownCurrency(code: string): boolean {
  known ??= new Set(Intl.supportedValuesOf('currency'));
  return known.has(code);
}

/** Whether the text has the form of an ISO 4217 code. */
export function isCurrencyCode(text: string): boolean {
  return /^[A-Z]{3}$/.test(text);
}
