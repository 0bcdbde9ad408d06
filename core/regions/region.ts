import { type Outcome, figure, refusal } from '../reasons.ts';

export const TAX_TREATMENTS = ['charged', 'none'] as const;

/** Where goods go: a set of countries with a currency and a tax treatment. */
export interface Region {
  readonly id: string;
  readonly version: number;
  readonly name: string;
  /** ISO 3166-1 alpha-2. */
  readonly countries: readonly string[];
  readonly currency: string;
  /** `none`: goods leave without tax. */
  readonly tax: (typeof TAX_TREATMENTS)[number];
  /** A wider region it lies inside of: in a country of both, the narrower wins. */
  readonly inside?: string | null;
}

/** What is looked up to know where goods go. */
export interface RegionsView {
  readonly workspace: { readonly regions: readonly Region[] };
  readonly regions: ReadonlyMap<string, Region>;
}

/** The regions a region lies inside of, itself first; a circle ends at its first repetition. */
export function regionLineage(ws: RegionsView, region: string): readonly string[] {
  const out: string[] = [];
  for (let at: string | null = region; at && !out.includes(at); at = ws.regions.get(at)?.inside ?? null) out.push(at);
  return out;
}

/** The regions of a country that no narrower one of it lies inside of: one is right, none or two are not. */
export function regionsOf(ws: RegionsView, country: string): readonly Region[] {
  const all = ws.workspace.regions.filter((r) => r.countries.includes(country));
  return all.filter((r) => !all.some((other) => other !== r && regionLineage(ws, other.id).includes(r.id)));
}

/** The region that goods to a country belong to; null: none. Refuses a country in two regions of which neither lies in the other. */
export function regionOf(ws: RegionsView, country: string): Outcome<Region | null> {
  const [first, second] = regionsOf(ws, country);
  return first && second
    ? refusal('country_in_two_regions', 'country', { country, regions: `${first.name}, ${second.name}` })
    : figure(first ?? null);
}
