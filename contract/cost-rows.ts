import {
  CHANGE_KINDS,
  COST_FLAGS,
  COST_FLAG_TEXT,
  type ChangeKind,
  type CostChange,
  type CostFlag,
  HARMLESS_FLAGS,
  type ItemFigureChange,
  type SheetCorrection,
  canBeTaken,
  needsLook,
  type SheetTaking,
} from './costs.ts';
import type { Window } from './windows.ts';

/** How many prices of how many lists a row would move, and the widest moves in per cent. */
export interface RowMoves {
  prices: number;
  lists: number;
  least: string | null;
  most: string | null;
}

/** A row of a sheet as it is looked at. */
export interface SheetRow extends CostChange {
  /** What a person decided of it. */
  said?: SheetCorrection;
  /** Where what the sheet would move has been worked out. */
  moves?: RowMoves;
}
export interface SheetRows extends Window<SheetRow> {
  rows: SheetRow[];
  /** Of the sheet they are rows of: what is decided of them names it. */
  version: number;
}

/** Which rows are looked at. */
export const ROW_SHOWS = [...CHANGE_KINDS, 'flagged'] as const;
export type RowShow = (typeof ROW_SHOWS)[number];

const FIRST = 8;

export function takingOf(changes: Iterable<CostChange>): SheetTaking {
  const counts = { up: 0, down: 0, new: 0 };
  const byFlag: SheetTaking['byFlag'] = {};
  const unusual: CostChange[] = [];
  for (const c of changes) {
    if (!canBeTaken(c) || c.held) continue;
    if (c.kind === 'up' || c.kind === 'down' || c.kind === 'new') counts[c.kind]++;
    if (!needsLook(c)) continue;
    unusual.push(c);
    for (const f of c.flags) if (!HARMLESS_FLAGS.includes(f)) byFlag[f] = (byFlag[f] ?? 0) + 1;
  }
  const weight = (c: CostChange) => COST_FLAGS.indexOf(c.flags[0]!);
  const first = [...unusual].sort((a, b) => weight(a) - weight(b)).slice(0, FIRST);
  return { ...counts, unusual: unusual.length, byFlag, first };
}

export const KIND_NAMES: Record<ChangeKind, string> = {
  up: 'cost up',
  down: 'cost down',
  new: 'new',
  unchanged: 'unchanged',
  unknown: 'unknown code',
};

/** What a row is, or what was decided of it. */
export const kindWords = (c: CostChange): string =>
  c.taken ? 'taken in' : c.held ? (c.reason ? `held: ${c.reason}` : 'held') : KIND_NAMES[c.kind];

export const itemWords = (c: CostChange): string => (c.sku ? `${c.sku}  ${c.name}` : c.name);

/** In whose form figures and days are written. */
export interface Written {
  number(text: string): string;
  /** Shortened to four decimals. */
  short(text: string): string;
  day(text: string): string;
}

const as = (text: string) => text;
/** As they travel. */
export const PLAINLY: Written = { number: as, short: as, day: as };

type Because = Record<string, string>;

/** What a flag says of one cost, with its figures. */
const DETAILS: Partial<Record<CostFlag, (b: Because, as: Written) => string>> = {
  decimal_shift: (b) => `decimal mark shifted? near ${b['times']} times as much or as little`,
  piece_for_pack: (b, as) => `the cost of one unit, where ${as.number(b['units']!)} were listed together?`,
  pack_for_piece: (b, as) => `the cost of a pack of ${as.number(b['units']!)}, read as that of one unit?`,
  far_from_like: (b, as) =>
    `far from ${b['count']} like items (${b['among']}): in their middle ${as.short(b['middle']!)} ${b['currency']} a ${b['unit']}`,
  unlike_lockstep: (b, as) =>
    `${b['lead']}, which it follows in lockstep, costs ${as.number(b['amount']!)} ${b['currency']} for ${as.number(b['units']!)} here`,
  follows_lead: (b) => `follows ${b['lead']} in lockstep: its own cost moves no price`,
  above_rrp: (b, as) =>
    `landed ${as.number(b['landed']!)} ${b['currency']}, and the RRP without tax is ${as.number(b['rrp']!)}`,
  unchanged_for_year: (b, as) => `has not changed since ${as.day(b['since']!)}`,
  ends_reduced: (b, as) => `the reduced cost of ${as.number(b['amount']!)} ${b['currency']} would end`,
};

export function flagWords({ because }: Pick<CostChange, 'because'>, flag: CostFlag, as: Written): string {
  const why = because?.[flag];
  const detail = DETAILS[flag];
  return why && detail ? detail(why, as) : COST_FLAG_TEXT[flag];
}

export const flagsWords = (c: CostChange, as: Written): string => c.flags.map((f) => flagWords(c, f, as)).join('; ');

const FIGURE_NAMES: Record<ItemFigureChange['field'], string> = { rrp: 'RRP', map: 'MAP', weightKg: 'kg' };

/** What a row says of the item itself. */
export const figuresWords = (c: CostChange, as: Written): string =>
  (c.figures ?? [])
    .map((f) => `${FIGURE_NAMES[f.field]} ${f.before ? as.number(f.before) : 'none'} → ${as.number(f.after)}`)
    .join('; ');

/** Of the widest moves, per cent, the one that is further from nothing; '': none. */
export const widest = (moves: Pick<RowMoves, 'least' | 'most'> | undefined): string => {
  const { least, most } = moves ?? {};
  return Math.abs(Number(least ?? 0)) > Math.abs(Number(most ?? 0)) ? (least ?? '') : (most ?? '');
};
