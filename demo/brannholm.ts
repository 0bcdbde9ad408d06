/** Brannholm Chandlers, an invented wholesaler and counter shop for boats and harbours. All of it is made up. */

export const COMPANY = 'Brannholm Chandlers';
export const DEMO_PASSWORD = 'brannholm-demo';

export const PEOPLE = [
  { name: 'Marit', signIn: 'marit', role: 'administrator', seesCost: true },
  { name: 'Oskar', signIn: 'oskar', role: 'approver', seesCost: true },
  { name: 'Liv', signIn: 'liv', role: 'seller', seesCost: false },
  { name: 'Tomas', signIn: 'tomas', role: 'seller', seesCost: true },
  { name: 'Runa', signIn: 'runa', role: 'reader', seesCost: false },
] as const;

export interface DemoSupplier {
  key: string;
  name: string;
  currency: string;
  freight?: { per: 'kg' | 'unit'; amount: string };
  duty?: string;
  handling?: string;
  overhead?: string;
}

/** Freight and handling in EUR. */
export const SUPPLIERS: readonly DemoSupplier[] = [
  {
    key: 'kelwick',
    name: 'Kelwick Ropeworks',
    currency: 'GBP',
    freight: { per: 'kg', amount: '0.85' },
    duty: '2.7',
    handling: '0.01',
    overhead: '1.5',
  },
  {
    key: 'norrvaag',
    name: 'Norrvaag Coatings',
    currency: 'NOK',
    freight: { per: 'kg', amount: '0.62' },
    duty: '3.2',
    handling: '0.48',
    overhead: '1.5',
  },
  { key: 'tamsin', name: 'Tamsin Forge', currency: 'EUR', freight: { per: 'kg', amount: '0.31' }, overhead: '1.5' },
  {
    key: 'aldermere',
    name: 'Aldermere Fittings',
    currency: 'SEK',
    freight: { per: 'unit', amount: '0.18' },
    overhead: '1.5',
  },
  { key: 'pell', name: 'Pell & Orrin Safety', currency: 'EUR', freight: { per: 'kg', amount: '0.55' }, overhead: '2' },
  {
    key: 'lusk',
    name: 'Lusk Marine Electric',
    currency: 'USD',
    freight: { per: 'kg', amount: '1.12' },
    duty: '3.7',
    handling: '0.02',
    overhead: '1.5',
  },
];

export const CATEGORIES: readonly [key: string, name: string, parent: string | null][] = [
  ['rope', 'rope and rigging', null],
  ['running', 'running rigging', 'rope'],
  ['braid', 'braided line', 'running'],
  ['halyard', 'halyards', 'running'],
  ['mooring', 'mooring lines', 'rope'],
  ['rigscrews', 'rigging screws', 'rope'],
  ['cord', 'small cord', 'running'],
  ['anchoring', 'anchoring', null],
  ['anchors', 'anchors', 'anchoring'],
  ['chain', 'chain', 'anchoring'],
  ['connectors', 'swivels', 'anchoring'],
  ['buoys', 'buoys', 'anchoring'],
  ['shackles', 'shackles', 'anchoring'],
  ['deck', 'deck hardware', null],
  ['cleats', 'cleats and fairleads', 'deck'],
  ['fittings', 'fittings', 'deck'],
  ['blocks', 'blocks', 'deck'],
  ['fasteners', 'fasteners', 'deck'],
  ['coatings', 'coatings', null],
  ['antifoul', 'antifouling', 'coatings'],
  ['topside', 'topside paint', 'coatings'],
  ['preparation', 'varnish, primer and filler', 'coatings'],
  ['safety', 'safety', null],
  ['jackets', 'lifejackets', 'safety'],
  ['flares', 'flares', 'safety'],
  ['gear', 'harness, rings and rescue', 'safety'],
  ['electrics', 'electrics', null],
  ['wiring', 'wiring', 'electrics'],
  ['cable', 'cable and terminals', 'wiring'],
  ['panels', 'switches and fuses', 'wiring'],
  ['power', 'batteries', 'electrics'],
  ['lights', 'lights', 'electrics'],
  ['stores', 'ship’s stores', null],
  ['cleaning', 'cleaning and care', 'stores'],
  ['galley', 'galley', 'stores'],
];

export const GROUPS = [
  { key: 'counter', name: 'counter', rank: 9 },
  { key: 'yards', name: 'boatyards', rank: 1 },
  { key: 'resale', name: 'chandlers, for resale', rank: 2 },
  { key: 'charter', name: 'charter fleets', rank: 3 },
  { key: 'club', name: 'club members', rank: 5 },
  { key: 'staff', name: 'staff', rank: 4 },
] as const;

export const CUSTOMERS: readonly [name: string, group: string, country?: string][] = [
  ['Counter sale', 'counter'],
  ['Saltholm Boatyard', 'yards'],
  ['Ness & Daughter, boatbuilders', 'yards'],
  ['Grebe Marine Works', 'yards'],
  ['Vik Slipway', 'yards'],
  ['Harbour school of Ostrand', 'counter'],
  ['Yacht Lumme, private', 'counter'],
  ['Seiche Sailing Club', 'club', 'FI'],
  ['Tern Charter', 'charter', 'EE'],
  ['Fjordline Chandlery', 'resale', 'NO'],
  ['Skerry Boats', 'yards', 'SE'],
  ['Own people', 'staff', 'FI'],
  ['Auk Expedition Yachts', 'charter', 'GB'],
  ['Petrel Rigging', 'yards', 'DK'],
  ['Osmund & Tarn, chandlers', 'resale', 'LV'],
  ['Sandlance Rowing Club', 'club', 'FI'],
  ['Halden Bay Charter', 'charter', 'US'],
  ['Cormorant Marine Stores', 'resale', 'GB'],
];

/** What items are described by: a number with its unit, or one of the values that occur. */
export const ATTRIBUTES: readonly [name: string, kind: 'number' | 'choice', unit: string | null][] = [
  ['diameter', 'number', 'mm'],
  ['length', 'number', 'm'],
  ['span', 'number', 'mm'],
  ['shank', 'number', 'mm'],
  ['sheave', 'number', 'mm'],
  ['breaking load', 'number', 'kN'],
  ['buoyancy', 'number', 'N'],
  ['content', 'number', 'l'],
  ['cross section', 'number', 'mm²'],
  ['capacity', 'number', 'Ah'],
  ['current', 'number', 'A'],
  ['power', 'number', 'W'],
  ['shelf life', 'number', 'months'],
  ['colour', 'choice', null],
  ['material', 'choice', null],
  ['style', 'choice', null],
  ['form', 'choice', null],
  ['size', 'choice', null],
  ['source', 'choice', null],
  ['hazard class', 'choice', null],
];
