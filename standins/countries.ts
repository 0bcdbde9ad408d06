/**
 * In which country an address of a network is. It knows the three blocks of addresses that are set aside for examples, and
 * tells by their last number; of the one that is set aside of the longer kind it tells by its last group. No real address is
 * known.
 */
const COUNTRIES = ['FI', 'SE', 'NO', 'DK', 'EE', 'LV', 'LT', 'GB', 'IM', 'US', 'CA', 'DE'] as const;
const SHORT = /^(?:192\.0\.2|198\.51\.100|203\.0\.113)\.(\d{1,3})$/;
const LONG = /^2001:db8:(?:[0-9a-f]{0,4}:){0,6}([0-9a-f]{1,4})$/i;

/** ISO 3166-1 alpha-2; null: it is not known. */
export function countryOfAddress(address: string): string | null {
  const last = SHORT.exec(address)?.[1];
  if (last !== undefined) return Number(last) > 255 ? null : COUNTRIES[Number(last) % COUNTRIES.length]!;
  const group = LONG.exec(address)?.[1];
  return group === undefined ? null : COUNTRIES[Number.parseInt(group, 16) % COUNTRIES.length]!;
}
