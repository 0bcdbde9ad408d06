import countries from 'i18n-iso-countries';
import english from 'i18n-iso-countries/langs/en.json';
import type { Choice } from './use-names.ts';

countries.registerLocale(english);

/** The countries of each continent, by their codes in ISO 3166-1; those that are not named lie in Europe. */
const CONTINENTS: Readonly<Record<string, string>> = {
  Africa:
    'DZ AO BJ BW BF BI CV CM CF TD KM CG CD CI DJ EG GQ ER SZ ET GA GM GH GN GW KE LS LR LY MG MW ML MR MU YT MA MZ NA NE NG RE RW SH ST SN SC SL SO ZA SS SD TZ TG TN UG EH ZM ZW IO TF',
  Antarctica: 'AQ BV GS HM',
  Asia: 'AF AM AZ BH BD BT BN KH CN CY GE HK IN ID IR IQ IL JP JO KZ KP KR KW KG LA LB MO MY MV MN MM NP OM PK PS PH QA SA SG LK SY TW TJ TH TL TR TM AE UZ VN YE CX CC',
  'North America':
    'AI AG AW BS BB BZ BM BQ VG CA KY CR CU CW DM DO SV GL GD GP GT HT HN JM MQ MX MS NI PA PR BL KN LC MF PM VC SX TT TC US VI',
  Oceania: 'AS AU CK FJ PF GU KI MH FM NR NC NZ NU NF MP PW PG PN WS SB TK TO TV UM VU WF',
  'South America': 'AR BO BR CL CO EC FK GF GY PY PE SR UY VE',
};
const CONTINENT_OF = new Map(
  Object.entries(CONTINENTS).flatMap(([name, codes]) => codes.split(' ').map((code) => [code, name] as const)),
);

/** The countries of ISO 3166-1 by code and English name; found by their continent too. */
export const COUNTRIES: readonly Choice[] = Object.entries(countries.getNames('en'))
  .map(([id, name]) => ({ id, code: id, name, also: CONTINENT_OF.get(id) ?? 'Europe' }))
  .sort((a, b) => a.name.localeCompare(b.name));

const NAMES = new Map(COUNTRIES.map((c) => [c.id, c.name]));
export const countryName = (code: string): string => NAMES.get(code) ?? code;
