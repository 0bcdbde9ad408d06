import type { Dice } from '#core/numbers/dice.ts';
import { type Made, combined, ONE, andCarton, byTheMetre, short, two, weight } from './variants.ts';

/** Cable, lights, batteries, switches and fuses; and what else a ship's store keeps. */
export function electrics(dice: Dice): Made[] {
  const lusk = { supplier: 'lusk', brand: 'Lusk', packUnits: '1' } as const;
  return [
    ...combined([1, 1.5, 2.5, 4, 6, 10, 16, 25, 35], ['red', 'black', 'blue', 'yellow', 'green', 'white'] as const).map(
      ([mm2, colour]) => ({
        ...lusk,
        sku: `CB-${two(mm2 * 10)}-${short(colour, 3)}`,
        name: `Tinned cable ${mm2} mm², ${colour}`,
        unit: 'metre',
        category: 'cable',
        model: `CB-${mm2}`,
        weightKg: weight(mm2 * 0.0105),
        cost: mm2 * 14.2 + 9.5,
        packUnits: '100',
        packs: byTheMetre(100),
        attributes: { 'cross section': String(mm2), colour },
      }),
    ),
    ...combined(
      ['port', 'starboard', 'stern', 'masthead', 'anchor', 'two-colour'] as const,
      ['12 m', '20 m'] as const,
      ['bulb', 'diode'] as const,
    ).map(([use, boat, source]) => ({
      ...lusk,
      sku: `NL-${short(use, 3)}-${short(boat)}-${short(source, 1)}`,
      name: `Navigation light, ${use}, boats to ${boat}, ${source}`,
      unit: 'each',
      category: 'lights',
      model: `NL-${use}`,
      weightKg: weight(boat === '12 m' ? 0.18 : 0.42),
      cost: (boat === '12 m' ? 14.8 : 33.5) * (source === 'diode' ? 1.9 : 1) + dice.whole(1, 5),
      packs: ONE,
      attributes: { form: use, source },
    })),
    ...combined(['starter', 'service', 'deep cycle'] as const, [44, 60, 75, 95, 110, 140, 180, 225]).map(
      ([use, ah]) => ({
        ...lusk,
        sku: `BT-${short(use)}-${ah}`,
        name: `Battery, ${use}, ${ah} Ah`,
        unit: 'each',
        category: 'power',
        model: `BT-${use}`,
        weightKg: weight(ah * 0.24),
        cost: ah * (use === 'starter' ? 0.72 : use === 'service' ? 0.94 : 1.31) + 12,
        packs: [{ name: 'each', units: '1', deposit: '7.50' }],
        attributes: { capacity: String(ah), 'hazard class': '8' },
      }),
    ),
    ...combined(['toggle', 'rocker', 'push', 'key', 'battery'] as const, [5, 10, 15, 20, 50]).map(([form, amps]) => ({
      ...lusk,
      sku: `SX-${short(form)}-${two(amps)}`,
      name: `Switch, ${form}, ${amps} A`,
      unit: 'each',
      category: 'panels',
      model: `SX-${form}`,
      weightKg: weight(0.04 + amps * 0.002),
      cost: 1.9 + amps * 0.13 + dice.whole(0, 3),
      packs: andCarton(20),
      attributes: { current: String(amps), form },
    })),
    ...combined(['blade', 'strip', 'glass'] as const, [1, 2, 3, 5, 7.5, 10, 15, 20, 25, 30]).map(([form, amps]) => ({
      ...lusk,
      sku: `FU-${short(form)}-${two(amps * 10)}`,
      name: `Fuse, ${form}, ${amps} A`,
      unit: 'each',
      category: 'panels',
      model: `FU-${form}`,
      weightKg: weight(0.003),
      cost: 3.1 + amps * 0.04,
      packUnits: '10',
      packs: andCarton(50),
      least: '5',
      attributes: { current: String(amps), form },
    })),
    ...combined(['ring', 'fork', 'blade', 'butt', 'pin'] as const, [1.5, 2.5, 6, 10, 16, 25]).map(([form, mm2]) => ({
      ...lusk,
      sku: `TM-${short(form)}-${two(mm2 * 10)}`,
      name: `Terminal, ${form}, ${mm2} mm²`,
      unit: 'each',
      category: 'cable',
      model: `TM-${form}`,
      weightKg: weight(0.002 + mm2 * 0.0004),
      cost: 4.2 + mm2 * 0.35,
      packUnits: '50',
      packs: andCarton(50),
      step: '10',
      attributes: { 'cross section': String(mm2), form },
    })),
    ...combined(
      ['cabin', 'reading', 'strip', 'deck', 'engine room', 'chart table'] as const,
      ['warm', 'cool', 'red'] as const,
      [3, 6],
    ).map(([use, light, watts]) => ({
      ...lusk,
      sku: `LM-${short(use)}-${short(light, 1)}${watts}`,
      name: `Lamp, ${use}, ${light} light, ${watts} W`,
      unit: 'each',
      category: 'lights',
      model: `LM-${use}`,
      weightKg: weight(0.12 + watts * 0.01),
      cost: 7.4 + watts * 1.1 + dice.whole(0, 6),
      packs: ONE,
      attributes: { power: String(watts), form: use },
    })),
  ];
}

export function stores(dice: Dice): Made[] {
  const shop = { supplier: 'pell', brand: 'Harbour Hand', unit: 'each', packUnits: '1', category: 'cleaning' } as const;
  const kept = (
    key: string,
    called: string,
    kinds: readonly string[],
    sizes: readonly string[],
    cost: number,
  ): Made[] =>
    combined(kinds, sizes).map(([kind, size], n) => ({
      ...shop,
      sku: `${key}-${short(kind, 3)}-${short(size, 2)}`,
      name: `${called}, ${kind}, ${size}`,
      model: `${key}-${kind}`,
      weightKg: weight(0.3 + 0.05 * n),
      cost: Number((cost * (1 + 0.09 * n)).toFixed(2)) + dice.whole(0, 2),
      packs: andCarton(12),
      attributes: { size },
    }));
  return [
    ...kept('BR', 'Deck brush', ['soft', 'medium', 'hard'], ['short', 'long', 'wide'], 3.6),
    ...kept('MO', 'Mop', ['cotton', 'sponge', 'microfibre'], ['plain', 'with bucket'], 4.1),
    ...kept('PO', 'Polish', ['hull', 'metal', 'plastic', 'teak'], ['250 ml', '500 ml', '1 l'], 3.2),
    ...kept('CN', 'Cleaner', ['deck', 'bilge', 'sail', 'rust'], ['500 ml', '1 l', '5 l'], 2.9),
    ...kept('BO', 'Boat hook', ['fixed', 'telescopic'], ['1.2 m', '1.8 m', '2.4 m'], 8.2),
    ...combined(['kettle', 'pan', 'stove', 'lantern'] as const, ['small', 'medium', 'large'] as const).map(
      ([kind, size], n) => ({
        ...shop,
        supplier: 'tamsin',
        brand: 'Tamsin',
        category: 'galley',
        sku: `GA-${short(kind)}-${short(size, 1)}`,
        name: `${kind[0]!.toUpperCase()}${kind.slice(1)}, ${size}`,
        model: `GA-${kind}`,
        weightKg: weight(0.8 + 0.2 * n),
        cost: 9.4 + 3.3 * n,
        packs: ONE,
        attributes: { size },
      }),
    ),
  ];
}
