/** What may be wrong with a cost that arrives; each has its words in the contract. */
export const SUSPICIONS = [
  'decimal_shift',
  'piece_for_pack',
  'pack_for_piece',
  'large_move',
  'other_currency',
  'other_pack',
  'far_from_like',
  'unlike_lockstep',
  'above_rrp',
  'long_past',
  'far_ahead',
  'ends_reduced',
  'held_by_typed',
  'earlier_day',
  'follows_lead',
  'unchanged_for_year',
] as const;
export type SuspicionCode = (typeof SUSPICIONS)[number];
