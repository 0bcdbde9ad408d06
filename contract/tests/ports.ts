import { kind } from '../records/declare.ts';

export interface Port {
  readonly id: string;
  readonly version: number;
  readonly name: string;
  readonly region: string;
  readonly draught?: string | null;
}

/** A kind of record that nobody keeps: what its declaration alone brings about is asked of it. */
export const PORTS = kind<Port>({
  name: 'ports',
  title: 'Ports',
  one: 'port',
  about: 'Where goods are landed.',
  readRight: 'see_cost',
  changeRight: 'edit_rules',
  fields: {
    name: { type: 'text', title: 'Name', most: 120 },
    region: { type: 'one', to: 'regions', title: 'In the region' },
    draught: { type: 'decimal', sign: 'positive', unit: 'm', title: 'Depth', optional: true },
  },
});
