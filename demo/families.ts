import type { Dice } from '#core/numbers/dice.ts';
import { electrics, stores } from './electrics.ts';
import { type Made, combined, ONE, andCarton, byTheMetre, short, two, weight, METALS, COLOURS } from './variants.ts';

/** Rope, hardware, paint and gear in the many variants in which a chandler keeps them; costs in the supplier's currency. */
export function moreItems(dice: Dice): Made[] {
  return [
    ...rope(),
    ...anchoring(),
    ...hardware(dice),
    ...coatings(),
    ...safety(),
    ...electrics(dice),
    ...stores(dice),
  ];
}

function rope(): Made[] {
  const kelwick = { supplier: 'kelwick', brand: 'Kelwick' } as const;
  return [
    ...combined([8, 10, 12, 14, 16, 18, 20, 24], ['white', 'navy', 'black'] as const).map(([mm, colour]) => ({
      ...kelwick,
      sku: `TS-${two(mm)}-${short(colour)}`,
      name: `Three-strand rope ${mm} mm, ${colour}`,
      unit: 'metre',
      category: 'mooring',
      model: `TS-${mm}`,
      weightKg: weight(mm * mm * 0.00055),
      cost: mm * mm * 0.92,
      packUnits: '220',
      packs: byTheMetre(220),
      attributes: { diameter: String(mm), colour, 'breaking load': (mm * mm * 0.15).toFixed(1) },
    })),
    ...combined([6, 8, 10, 12, 14], COLOURS).map(([mm, colour]) => ({
      ...kelwick,
      sku: `HY-${two(mm)}-${short(colour)}`,
      name: `Low-stretch halyard ${mm} mm, ${colour}`,
      unit: 'metre',
      category: 'halyard',
      model: `HY-${mm}`,
      weightKg: weight(mm * mm * 0.00058),
      cost: mm * mm * 3.15 + 22,
      packUnits: '100',
      packs: byTheMetre(100),
      attributes: { diameter: String(mm), colour, 'breaking load': (mm * mm * 0.34).toFixed(1) },
    })),
    ...combined([14, 16, 18, 20, 24, 28, 32], [6, 8, 10, 15], ['navy', 'black'] as const).map(
      ([mm, length, colour]) => ({
        ...kelwick,
        sku: `ML-${mm}-${two(length)}-${short(colour)}`,
        name: `Mooring line ${mm} mm, ${length} m, ${colour}, eye spliced`,
        unit: 'each',
        category: 'mooring',
        model: `ML-${mm}`,
        weightKg: weight(mm * mm * length * 0.00058),
        cost: mm * length * 0.121 + 2.3,
        packUnits: '1',
        packs: andCarton(6),
        attributes: { diameter: String(mm), length: String(length), colour },
      }),
    ),
    ...combined(['splicing', 'whipping'] as const, [0.8, 1, 1.5, 2], ['white', 'navy', 'black'] as const).map(
      ([use, mm, colour]) => ({
        ...kelwick,
        sku: `TW-${short(use, 1)}${String(mm).replace('.', '')}-${short(colour)}`,
        name: `${use === 'splicing' ? 'Splicing' : 'Whipping'} twine ${mm} mm, ${colour}`,
        unit: 'each',
        category: 'cord',
        model: `TW-${use}`,
        weightKg: weight(mm * 0.03),
        cost: mm * 1.9 + 0.8,
        packUnits: '10',
        packs: andCarton(10),
        attributes: { diameter: String(mm), colour },
      }),
    ),
  ];
}

function anchoring(): Made[] {
  const tamsin = { supplier: 'tamsin', brand: 'Tamsin', unit: 'each', packUnits: '1' } as const;
  return [
    ...combined(['jaw', 'eye', 'anchor'] as const, [6, 8, 10, 12, 13, 16, 20]).map(([form, mm]) => ({
      ...tamsin,
      sku: `SW-${short(form)}-${two(mm)}`,
      name: `Swivel, ${form}, ${mm} mm, stainless`,
      category: 'connectors',
      model: `SW-${form}`,
      weightKg: weight(mm * mm * mm * 0.00011),
      cost: mm * mm * 0.11 + 4.8,
      packs: ONE,
      attributes: { diameter: String(mm), material: 'stainless steel', form },
    })),
    ...combined([8, 10, 12, 14], [20, 30, 40, 50, 60]).map(([mm, length]) => ({
      ...tamsin,
      sku: `AR-${two(mm)}-${length}`,
      name: `Anchor rode, chain and ${mm} mm rope, ${length} m`,
      category: 'chain',
      model: `AR-${mm}`,
      weightKg: weight(mm * mm * length * 0.0021),
      cost: mm * length * 0.155 + 11,
      packs: ONE,
      attributes: { diameter: String(mm), length: String(length) },
    })),
    ...combined([20, 30, 45, 60, 80, 100], ['orange', 'white', 'yellow', 'red'] as const).map(([cm, colour]) => ({
      ...tamsin,
      sku: `BU-${cm}-${short(colour)}`,
      name: `Buoy ${cm} cm, ${colour}`,
      category: 'buoys',
      model: `BU-${cm}`,
      weightKg: weight(cm * cm * 0.0006),
      cost: cm * cm * 0.0115 + 3.2,
      packs: ONE,
      attributes: { diameter: String(cm * 10), colour },
    })),
  ];
}

function hardware(dice: Dice): Made[] {
  const aldermere = { supplier: 'aldermere', brand: 'Aldermere', unit: 'each' } as const;
  const parts = (
    key: string,
    called: string,
    forms: readonly string[],
    sizes: readonly number[],
    category: string,
    perMm: number,
  ): Made[] =>
    combined(forms, sizes, METALS).map(([form, mm, [material, factor]]) => ({
      ...aldermere,
      sku: `${key}-${short(form, 3)}-${mm}-${short(material, 1)}`,
      name: `${called}, ${form}, ${mm} mm, ${material}`,
      category,
      model: `${key}-${form}`,
      weightKg: weight(mm * 0.0014),
      cost: Number((mm * perMm * factor).toFixed(2)) + dice.whole(6, 22),
      packUnits: '1',
      packs: andCarton(10),
      attributes: { span: String(mm), material, form },
    }));
  return [
    ...parts(
      'HI',
      'Hinge',
      ['butt', 'strap', 'lift-off', 'flush', 'offset', 'spring'],
      [40, 50, 65, 80, 100],
      'fittings',
      0.9,
    ),
    ...parts('EB', 'Eye bolt', ['plain', 'collared', 'folding', 'long'], [5, 6, 8, 10, 12, 16], 'fittings', 4.4),
    ...parts('PE', 'Pad eye', ['round', 'oblong', 'folding'], [35, 45, 60, 75, 90], 'fittings', 0.8),
    ...parts('LE', 'Fairlead', ['straight', 'bow', 'roller', 'closed'], [80, 110, 140, 180, 220], 'cleats', 0.7),
    ...parts('HA', 'Handrail', ['round', 'flat'], [300, 450, 600, 900], 'fittings', 0.42),
    ...combined(['closed', 'open', 'hook'] as const, [5, 6, 8, 10, 12, 14, 16]).map(([form, mm]) => ({
      ...aldermere,
      sku: `TB-${short(form)}-${two(mm)}`,
      name: `Turnbuckle, ${form}, M${mm}`,
      category: 'rigscrews',
      model: `TB-${form}`,
      weightKg: weight(mm * mm * 0.004),
      cost: mm * mm * 2.4 + 62,
      packUnits: '1',
      packs: ONE,
      attributes: { diameter: String(mm), material: 'stainless steel', form },
    })),
    ...combined(
      ['coach screw', 'countersunk screw', 'machine screw', 'hexagon bolt'] as const,
      [4, 5, 6, 8],
      [20, 30, 50, 60, 80, 100],
    ).map(([kind, mm, length]) => ({
      ...aldermere,
      sku: `FX-${short(kind, 3)}${mm}-${length}`,
      name: `${kind[0]!.toUpperCase()}${kind.slice(1)} M${mm} × ${length}, stainless`,
      category: 'fasteners',
      model: `FX-${kind}`,
      weightKg: weight(mm * length * 0.00004),
      cost: mm * length * 0.38 + 16,
      packUnits: '100',
      packs: andCarton(100),
      step: '5',
      attributes: { shank: String(length), diameter: String(mm), material: 'stainless steel' },
    })),
    ...combined(['nut', 'washer'] as const, [4, 5, 6, 8, 10], METALS).map(([kind, mm, [material, factor]]) => ({
      ...aldermere,
      sku: `NW-${short(kind, 1)}${two(mm)}-${short(material, 1)}`,
      name: `${kind === 'nut' ? 'Nut' : 'Washer'} M${mm}, ${material}`,
      category: 'fasteners',
      model: `NW-${kind}`,
      weightKg: weight(mm * 0.0004),
      cost: mm * 3.1 * factor + 9,
      packUnits: '100',
      packs: andCarton(100),
      step: '10',
      attributes: { diameter: String(mm), material },
    })),
  ];
}

function coatings(): Made[] {
  const norrvaag = { supplier: 'norrvaag', brand: 'Norrvaag', unit: 'each', packUnits: '1' } as const;
  const tins = (
    key: string,
    called: string,
    kinds: readonly string[],
    litres: readonly number[],
    perLitre: number,
  ): Made[] =>
    combined(kinds, litres).map(([kind, l]) => ({
      ...norrvaag,
      sku: `${key}-${short(kind, 3)}-${String(l).replace('.', '')}`,
      name: `${called}, ${kind}, ${l} l`,
      category: 'preparation',
      model: `${key}-${kind}`,
      weightKg: weight(l * 1.15),
      cost: l * perLitre + 28,
      packs: l >= 5 ? [{ name: 'drum', units: '1', deposit: '6.00' }] : ONE,
      attributes: { content: String(l), 'hazard class': '3', 'shelf life': '36' },
    }));
  return [
    ...tins('VA', 'Varnish', ['gloss', 'satin', 'matt', 'two-part'], [0.375, 0.75, 2.5], 188),
    ...tins('PR', 'Primer', ['wood', 'steel', 'epoxy', 'aluminium'], [0.75, 2.5, 5], 151),
    ...tins('TH', 'Thinner', ['brush', 'spray', 'two-part'], [0.5, 1, 5], 74),
    ...tins('FI', 'Filler', ['fairing', 'fine', 'below water'], [0.4, 1, 2.5], 231),
    ...tins('BI', 'Bilge paint', ['grey', 'white'], [0.75, 2.5, 5], 128),
    ...combined(['cream', 'grey', 'ochre', 'black'] as const, [3, 20]).map(([shade, l]) => ({
      ...norrvaag,
      sku: `AF-${short(shade)}${shade.length}-${l}`,
      name: `Antifouling, ${shade}, ${l} l drum`,
      category: 'antifoul',
      model: `AF-${l}`,
      weightKg: weight(l * 1.7),
      cost: l === 3 ? 812 : 4980,
      packs: [{ name: 'drum', units: '1', deposit: l === 3 ? '3.00' : '18.00' }],
      attributes: { colour: shade, content: String(l), 'hazard class': '3' },
    })),
  ];
}

function safety(): Made[] {
  const pell = { supplier: 'pell', brand: 'Pell & Orrin', unit: 'each', packUnits: '1', packs: ONE } as const;
  const gear = (
    key: string,
    called: string,
    kinds: readonly string[],
    sizes: readonly string[],
    kg: number,
    cost: number,
  ): Made[] =>
    combined(kinds, sizes).map(([kind, size], n) => {
      const own = cost * (1 + 0.07 * n);
      return {
        ...pell,
        sku: `${key}-${short(kind, 3)}-${short(size, 3)}`,
        name: `${called}, ${kind}, ${size}`,
        category: 'gear',
        model: `${key}-${kind}`,
        weightKg: weight(kg * (1 + 0.1 * (n % 4))),
        cost: own,
        rrp: (own * 2.2).toFixed(2),
        map: (own * 1.85).toFixed(2),
        attributes: { size },
      };
    });
  return [
    ...gear('HN', 'Harness', ['deck', 'racing', 'work'], ['small', 'medium', 'large', 'extra large'], 0.9, 38),
    ...gear('TE', 'Tether', ['single hook', 'double hook', 'elastic'], ['1 m', '2 m'], 0.4, 24),
    ...gear('LR', 'Life ring', ['horseshoe', 'round'], ['60 cm', '75 cm'], 2.1, 31),
    ...gear('FE', 'Fire extinguisher', ['powder', 'foam'], ['1 kg', '2 kg', '6 kg'], 2.4, 22),
    ...gear('MK', 'First aid set', ['coastal', 'offshore', 'ocean'], ['4 people', '8 people'], 1.1, 29),
    ...gear('LT', 'Rescue light', ['jacket', 'ring', 'masthead'], ['flashing', 'steady'], 0.15, 11),
  ];
}
