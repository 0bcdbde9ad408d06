export type Made = Omit<DemoItem, 'code' | 'taxClass'> & { taxClass?: DemoItem['taxClass'] };

/** Every combination of the values of some axes. */
export function combined<const A extends readonly (readonly unknown[])[]>(
  ...axes: A
): { [K in keyof A]: A[K][number] }[] {
  return axes.reduce<unknown[][]>((rows, axis) => rows.flatMap((r) => axis.map((v) => [...r, v])), [[]]) as never;
}

export const ONE = [{ name: 'each', units: '1' }];
export const andCarton = (units: number) => [...ONE, { name: 'carton', units: String(units) }];
export const byTheMetre = (drum: number) => [
  { name: 'metre', units: '1' },
  { name: 'drum', units: String(drum) },
];
export const short = (word: string, letters = 2) =>
  word
    .replace(/[^a-z0-9]/gi, '')
    .slice(0, letters)
    .toUpperCase();
export const two = (n: number) => String(n).padStart(2, '0');
export const weight = (kg: number) => kg.toFixed(kg < 1 ? 4 : 2);
export const METALS = [
  ['aluminium', 0.55],
  ['stainless steel', 1],
] as const;
export const COLOURS = ['white', 'navy', 'red', 'green', 'black', 'gold'] as const;

export interface DemoItem {
  sku: string;
  code: string;
  name: string;
  unit: string;
  category: string;
  supplier: string;
  brand: string;
  model: string;
  weightKg: string;
  /** Cost per cost pack in the supplier's currency, and the units in it. */
  cost: number;
  packUnits: string;
  taxClass: 'standard' | 'reduced';
  packs: { name: string; units: string; deposit?: string }[];
  rrp?: string;
  map?: string;
  attributes: Record<string, string>;
  least?: string;
  step?: string;
}
