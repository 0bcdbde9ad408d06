import type { Block } from './price-block.ts';

/** Rows handed to a worker thread at a time: a few milliseconds of pricing, a megabyte of text. */
const BLOCK_ROWS = 10_000;

/** The blocks of a list, in the order of its rows. */
export function* blocksOf({ rows, ...list }: Omit<Block, 'start' | 'end'> & { rows: number }): Generator<Block> {
  for (let start = 0; start < rows; start += BLOCK_ROWS)
    yield { ...list, start, end: Math.min(rows, start + BLOCK_ROWS) };
}
