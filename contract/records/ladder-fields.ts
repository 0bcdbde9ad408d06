import type { Direction, LadderTerms } from '#core/rounding/ladder.ts';
import type { FieldsOf } from './declare.ts';

const DIRECTIONS: Record<Direction, string> = { nearest: 'nearest', up: 'up', down: 'down', cuts: 'two cuts' };
const optional = { optional: true } as const;

/** A ladder: prices as the buyer sees them, in its currency. */
export const LADDER_FIELDS = {
  name: { type: 'text', title: 'Name', most: 80 },
  currency: { type: 'currency', title: 'Currency' },
  byDefault: { type: 'yes', title: 'Rounds every list of its currency that has no ladder' },
  rungs: {
    type: 'rows',
    one: 'rung',
    title: 'Rungs',
    least: 1,
    most: 200,
    fields: {
      from: { type: 'decimal', sign: 'not_negative', title: 'From' },
      to: { type: 'decimal', sign: 'not_negative', title: 'up to, not with it', ...optional },
      step: { type: 'decimal', sign: 'positive', title: 'Step' },
      endings: { type: 'decimals', one: 'ending', title: 'Endings', least: 1 },
      direction: { type: 'choice', title: 'Direction', options: DIRECTIONS },
      downUntil: { type: 'decimal', sign: 'not_negative', title: 'Down before', ...optional },
      upFrom: { type: 'decimal', sign: 'not_negative', title: 'Up from', ...optional },
      offset: { type: 'decimal', title: 'Offset after rounding', ...optional },
    },
  },
} satisfies FieldsOf<LadderTerms>;
