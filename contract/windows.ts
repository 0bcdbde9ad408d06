import { type InferType, array, boolean, number, object, string } from 'yup';
import { DAY } from './days.ts';

/** Which rows of a grid are asked for, and in which order. What is empty asks for nothing. */
export const arrangedBody = object({
  /** The column they are sorted by. */
  sort: string().max(40).defined().default(''),
  /** The other way round. */
  down: boolean().defined().default(false),
  /** A part of the column's text, or of its figures ">10", "<=3.5", "=0"; "=" for empty. Figures are plain decimals. */
  filters: array(object({ column: string().max(40).required(), filter: string().max(200).defined() }).noUnknown())
    .max(40)
    .defined()
    .default([]),
  /** Words that must all stand in the row's texts. */
  find: string().max(200).defined().default(''),
  /** One of the looks that the grid offers. */
  show: string().max(20).defined().default(''),
}).noUnknown();
export type Arranged = InferType<typeof arrangedBody>;

export const EVERYTHING: Arranged = { sort: '', down: false, filters: [], find: '', show: '' };

/** The most rows of one answer. */
export const MOST_ROWS = 2_000;
const USUAL_ROWS = 200;

export const WINDOW_QUERY = {
  ...DAY,
  sort: 'the column they are sorted by; none: as they are kept',
  down: '1: the other way round',
  filters: 'JSON: [{"column": "name", "filter": "a part of its text, or >10, <=3.5, =0 of figures, = for empty"}]',
  find: 'words that must all stand in the row’s texts',
  show: 'one of the looks at the rows',
  from: 'how many rows are passed over',
  count: `how many rows are answered, at most ${MOST_ROWS}; none: ${USUAL_ROWS}`,
  key: 'a row whose place is asked for as well, as ids with - between them',
  jump: 'JSON: a place that is asked for, {"to": "edge" or "starts", "column": "name", "row": 12, "down": true, "text": "gal"}',
} as const;

const { day: _, show: __, ...lines } = WINDOW_QUERY;
/** The same of rows that hang on no day and have no looks. */
export const LINES_QUERY = lines;

/** A place in the order that only the whole of it knows. */
export const jumpBody = object({
  /** The edge of a stretch of filled or empty cells, or the next row whose cell begins with a text. */
  to: string().oneOf(['edge', 'starts']).required(),
  column: string().max(40).required(),
  row: number().integer().min(0).required(),
  down: boolean().defined().default(true),
  text: string().max(80).defined().default(''),
}).noUnknown();
export type Jump = InferType<typeof jumpBody>;

export type WindowQuery = Readonly<Record<keyof typeof WINDOW_QUERY, string | null>>;

/** A stretch of the rows that fit, in their order. */
export interface Stretch {
  readonly from: number;
  readonly count: number;
}

/** What a window is asked by, as it travels. */
export const windowQuery = (
  day: string | null,
  a: Arranged,
  { from, count }: Stretch,
  { key = null, jump = null }: { key?: string | null; jump?: Jump | null } = {},
): WindowQuery => ({
  day,
  sort: a.sort || null,
  down: a.down ? '1' : null,
  filters: a.filters.length > 0 ? JSON.stringify(a.filters) : null,
  find: a.find || null,
  show: a.show || null,
  from: String(from),
  count: String(count),
  key,
  jump: jump && JSON.stringify(jump),
});

/** Reads it back. Throws a validation error, or a syntax error of JSON. */
export function readWindow(query: Readonly<Record<string, string>>): {
  arranged: Arranged;
  stretch: Stretch;
  jump: Jump | null;
} {
  const whole = (name: string, usual: number) => (/^\d{1,9}$/.test(query[name] ?? '') ? Number(query[name]) : usual);
  const arranged = arrangedBody.validateSync(
    {
      sort: query['sort'] ?? '',
      down: query['down'] === '1',
      filters: query['filters'] ? (JSON.parse(query['filters']) as unknown) : [],
      find: query['find'] ?? '',
      show: query['show'] ?? '',
    },
    { strict: true },
  );
  const jump = query['jump'] ? jumpBody.validateSync(JSON.parse(query['jump']), { strict: true }) : null;
  return {
    arranged,
    jump,
    stretch: { from: whole('from', 0), count: Math.min(MOST_ROWS, whole('count', USUAL_ROWS)) },
  };
}

/** A stretch of rows. Their figures are of now; which fit and how they are ordered is as of `at`. */
export interface Window<Row> {
  rows: Row[];
  from: number;
  /** How many fit. */
  fits: number;
  /** How many there are. */
  total: number;
  /** Names order and state: rows of two answers with the same name belong to one grid. */
  arrangement: string;
  /** Where the row or the place that was asked for stands; null: it does not fit, or none was asked for. */
  place: number | null;
  /** When the order was worked out. */
  at: string;
  /** Something was changed since: it is being worked out again. */
  stale: boolean;
}
