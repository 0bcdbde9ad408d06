import { Dice } from '#core/numbers/dice.ts';
import { moreItems } from './families.ts';
import type { DemoItem } from './variants.ts';

/** What Brannholm Chandlers buys and sells: made up from a fixed seed, the same on every machine. */

const COLOURS = ['white', 'navy', 'red', 'green', 'black', 'gold'];
const SHADES = ['white', 'signal red', 'harbour blue', 'deep blue', 'sea green', 'black', 'cream', 'grey', 'ochre'];

const two = (n: number) => n.toFixed(2);

export function demoItems(): DemoItem[] {
  const dice = new Dice(20260309);
  const out: DemoItem[] = [];
  let n = 0;
  const add = (
    i: Omit<DemoItem, 'code' | 'attributes' | 'taxClass'> & {
      attributes?: Record<string, string>;
      taxClass?: 'standard' | 'reduced';
    },
  ) => {
    n += 1;
    out.push({
      taxClass: 'standard',
      attributes: {},
      ...i,
      code: `${i.supplier.slice(0, 2).toUpperCase()}${1000 + n}`,
    });
  };
  // rope by the metre and by the drum; one model in six colours
  for (const mm of [6, 8, 10, 12, 14, 16]) {
    for (const colour of COLOURS) {
      add({
        sku: `BL-${String(mm).padStart(2, '0')}-${colour.slice(0, 2).toUpperCase()}`,
        name: `Braided line ${mm} mm, ${colour}`,
        unit: 'metre',
        category: 'braid',
        supplier: 'kelwick',
        brand: 'Kelwick',
        model: `BL-${mm}`,
        weightKg: (mm * mm * 0.00064).toFixed(3),
        cost: mm * mm * 1.49,
        packUnits: '220',
        packs: [
          { name: 'metre', units: '1' },
          { name: 'drum', units: '220' },
        ],
        attributes: { diameter: String(mm), colour, 'breaking load': (mm * mm * 0.19).toFixed(1) },
      });
    }
  }
  for (const mm of [14, 16, 18, 20, 24, 28, 32]) {
    for (const length of [6, 8, 10, 15]) {
      add({
        sku: `ML-${mm}-${String(length).padStart(2, '0')}`,
        name: `Mooring line ${mm} mm, ${length} m, eye spliced`,
        unit: 'each',
        category: 'mooring',
        supplier: 'kelwick',
        brand: 'Kelwick',
        model: `ML-${mm}`,
        weightKg: (mm * mm * length * 0.00058).toFixed(2),
        cost: mm * length * 0.114 + 2.1,
        packUnits: '1',
        packs: [
          { name: 'each', units: '1' },
          { name: 'carton', units: '6' },
        ],
        attributes: { diameter: String(mm), length: String(length) },
      });
    }
  }
  for (const mm of [2, 3, 4, 5]) {
    for (const colour of COLOURS.slice(0, 4)) {
      add({
        sku: `SC-${mm}-${colour.slice(0, 2).toUpperCase()}`,
        name: `Small cord ${mm} mm, ${colour}`,
        unit: 'metre',
        category: 'cord',
        supplier: 'kelwick',
        brand: 'Kelwick',
        model: `SC-${mm}`,
        weightKg: (mm * mm * 0.0007).toFixed(4),
        cost: mm * 9.35,
        packUnits: '500',
        packs: [
          { name: 'metre', units: '1' },
          { name: 'drum', units: '500' },
        ],
        attributes: { diameter: String(mm), colour },
      });
    }
  }
  // anchors and chain: heavy
  for (const [style, factor] of [
    ['plough', 4.9],
    ['fluke', 3.6],
    ['claw', 4.2],
    ['folding', 3.1],
  ] as const) {
    for (const kg of [2, 4, 6, 8, 10, 12, 16, 20, 25, 33]) {
      add({
        sku: `AN-${style.slice(0, 2).toUpperCase()}-${String(kg).padStart(2, '0')}`,
        name: `Anchor, ${style}, ${kg} kg, galvanised`,
        unit: 'each',
        category: 'anchors',
        supplier: 'tamsin',
        brand: 'Tamsin',
        model: `AN-${style}`,
        weightKg: String(kg),
        cost: kg * factor + 6.5,
        packUnits: '1',
        packs: [{ name: 'each', units: '1' }],
        attributes: { material: 'galvanised steel', style },
      });
    }
  }
  for (const mm of [6, 7, 8, 10, 12, 13, 16]) {
    for (const material of ['galvanised steel', 'stainless steel'] as const) {
      add({
        sku: `CH-${String(mm).padStart(2, '0')}-${material.slice(0, 1).toUpperCase()}`,
        name: `Chain ${mm} mm, ${material}`,
        unit: 'metre',
        category: 'chain',
        supplier: 'tamsin',
        brand: 'Tamsin',
        model: `CH-${material.slice(0, 1)}`,
        weightKg: (mm * mm * 0.0219).toFixed(2),
        cost: mm * mm * (material === 'stainless steel' ? 14.1 : 3.75),
        packUnits: '50',
        packs: [
          { name: 'metre', units: '1' },
          { name: 'drum', units: '50' },
        ],
        attributes: { diameter: String(mm), material },
      });
    }
  }
  for (const form of ['bow', 'straight', 'twisted']) {
    for (const mm of [5, 6, 8, 10, 12, 14, 16]) {
      add({
        sku: `SH-${form.slice(0, 2).toUpperCase()}-${String(mm).padStart(2, '0')}`,
        name: `Shackle, ${form}, ${mm} mm, stainless`,
        unit: 'each',
        category: 'shackles',
        supplier: 'aldermere',
        brand: 'Aldermere',
        model: `SH-${form}`,
        weightKg: (mm * mm * mm * 0.00006).toFixed(3),
        cost: mm * mm * 2.9 + 34,
        packUnits: '10',
        packs: [
          { name: 'each', units: '1' },
          { name: 'carton', units: '10' },
        ],
        attributes: { diameter: String(mm), material: 'stainless steel', form },
      });
    }
  }
  // deck hardware in very many variants
  for (const style of ['horn', 'flush', 'folding', 'jam']) {
    for (const mm of [100, 125, 150, 200, 250]) {
      for (const material of ['aluminium', 'stainless steel'] as const) {
        add({
          sku: `CL-${style.slice(0, 2).toUpperCase()}-${mm}-${material.slice(0, 1).toUpperCase()}`,
          name: `Cleat, ${style}, ${mm} mm, ${material}`,
          unit: 'each',
          category: 'cleats',
          supplier: 'aldermere',
          brand: 'Aldermere',
          model: `CL-${style}`,
          weightKg: (mm * 0.0019).toFixed(3),
          cost: mm * (material === 'aluminium' ? 0.52 : 0.94) + dice.whole(4, 19),
          packUnits: '1',
          packs: [
            { name: 'each', units: '1' },
            { name: 'carton', units: '12' },
          ],
          attributes: { span: String(mm), material },
        });
      }
    }
  }
  for (const form of ['single', 'double', 'triple', 'fiddle', 'foot']) {
    for (const mm of [29, 40, 57, 75]) {
      add({
        sku: `BK-${form.slice(0, 2).toUpperCase()}-${mm}`,
        name: `Block, ${form}, ${mm} mm sheave`,
        unit: 'each',
        category: 'blocks',
        supplier: 'aldermere',
        brand: 'Aldermere',
        model: `BK-${form}`,
        weightKg: (mm * 0.0036).toFixed(3),
        cost: mm * 4.15 + dice.whole(20, 160),
        packUnits: '1',
        packs: [{ name: 'each', units: '1' }],
        attributes: { sheave: String(mm) },
      });
    }
  }
  for (const kind of ['screw', 'bolt', 'rivet']) {
    for (const mm of [4, 5, 6, 8]) {
      for (const length of [16, 25, 40]) {
        add({
          sku: `FA-${kind.slice(0, 1).toUpperCase()}${mm}-${length}`,
          name: `${kind[0]!.toUpperCase()}${kind.slice(1)} M${mm} × ${length}, stainless`,
          unit: 'each',
          category: 'fasteners',
          supplier: 'aldermere',
          brand: 'Aldermere',
          model: `FA-${kind}`,
          weightKg: (mm * length * 0.00004).toFixed(4),
          cost: mm * length * 0.41 + 18,
          packUnits: '100',
          packs: [
            { name: 'each', units: '1' },
            { name: 'carton', units: '100' },
          ],
          step: '5',
          attributes: { shank: String(length) },
        });
      }
    }
  }
  // paint with returnable drums; one paint in nine shades
  for (const shade of SHADES) {
    for (const [litres, cost] of [
      ['0.75', 148.5],
      ['2.5', 438.2],
    ] as const) {
      add({
        sku: `TP-${shade.slice(0, 2).toUpperCase()}${shade.length}-${litres.replace('.', '')}`,
        name: `Topside paint, ${shade}, ${litres} l`,
        unit: 'each',
        category: 'topside',
        supplier: 'norrvaag',
        brand: 'Norrvaag',
        model: `TP-${litres}`,
        weightKg: (Number(litres) * 1.28).toFixed(2),
        cost,
        packUnits: '1',
        packs: [{ name: 'each', units: '1' }],
        attributes: { colour: shade, 'hazard class': '3' },
      });
    }
  }
  for (const shade of SHADES.slice(0, 5)) {
    for (const [litres, cost, deposit] of [
      ['3', 812, '3.00'],
      ['20', 4980, '18.00'],
    ] as const) {
      add({
        sku: `AF-${shade.slice(0, 2).toUpperCase()}${shade.length}-${litres}`,
        name: `Antifouling, ${shade}, ${litres} l drum`,
        unit: 'each',
        category: 'antifoul',
        supplier: 'norrvaag',
        brand: 'Norrvaag',
        model: `AF-${litres}`,
        weightKg: (Number(litres) * 1.7).toFixed(1),
        cost,
        packUnits: '1',
        packs: [{ name: 'drum', units: '1', deposit }],
        attributes: { colour: shade, 'hazard class': '3' },
      });
    }
  }
  // safety with RRP and minimum advertised prices
  for (const newtons of [100, 150, 165, 275]) {
    for (const size of ['child', 'junior', 'adult', 'large']) {
      const cost = newtons * 0.36 + (size === 'child' ? 4 : 14);
      add({
        sku: `LJ-${newtons}-${size.slice(0, 2).toUpperCase()}`,
        name: `Lifejacket ${newtons} N, ${size}`,
        unit: 'each',
        category: 'jackets',
        supplier: 'pell',
        brand: 'Pell & Orrin',
        model: `LJ-${newtons}`,
        weightKg: (newtons * 0.006).toFixed(2),
        cost,
        packUnits: '1',
        taxClass: size === 'child' ? 'reduced' : 'standard',
        packs: [{ name: 'each', units: '1' }],
        rrp: two(cost * 2.28),
        map: two(cost * 1.9),
        attributes: { buoyancy: String(newtons), size },
      });
    }
  }
  for (const [code, kind] of [
    ['HR', 'hand flare, red'],
    ['HW', 'hand flare, white'],
    ['PR', 'parachute rocket'],
    ['SO', 'smoke, orange'],
  ] as const) {
    for (const pack of [1, 4]) {
      const cost = (kind.startsWith('para') ? 31.4 : 9.85) * pack * (pack > 1 ? 0.95 : 1);
      add({
        sku: `FL-${code}-${pack}`,
        name: `Flare: ${kind}${pack > 1 ? `, set of ${pack}` : ''}`,
        unit: 'each',
        category: 'flares',
        supplier: 'pell',
        brand: 'Pell & Orrin',
        model: `FL-${code}`,
        weightKg: (0.25 * pack).toFixed(2),
        cost,
        packUnits: '1',
        packs: [{ name: 'each', units: '1' }],
        rrp: two(cost * 2.1),
        attributes: { 'hazard class': '1.4S', 'shelf life': '36' },
      });
    }
  }
  for (const made of moreItems(dice)) add(made);
  return out;
}
