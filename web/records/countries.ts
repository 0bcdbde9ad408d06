import countries from 'i18n-iso-countries';
import english from 'i18n-iso-countries/langs/en.json';
import type { Choice } from './use-names.ts';

countries.registerLocale(english);

/** The countries of ISO 3166-1 by code and English name. */
export const COUNTRIES: readonly Choice[] = Object.entries(countries.getNames('en'))
  .map(([id, name]) => ({ id, code: id, name }))
  .sort((a, b) => a.name.localeCompare(b.name));

const NAMES = new Map(COUNTRIES.map((c) => [c.id, c.name]));
export const countryName = (code: string): string => NAMES.get(code) ?? code;
