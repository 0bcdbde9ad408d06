/** A thing that waits for somebody, and where it is settled. */
export interface Waiting {
  kind:
    | 'cost_sheet'
    | 'taken_by_itself'
    | 'posted_by_itself'
    | 'left_by_itself'
    | 'connection_asked'
    | 'connection_trouble'
    | 'price_changes'
    | 'falls'
    | 'held_prices'
    | 'below_floor'
    | 'quote_to_approve'
    | 'findings'
    | 'failing_proofs'
    | 'prices_end'
    | 'posting_to_agree'
    | 'posting_refused'
    | 'quote_approved'
    | 'to_come'
    | 'to_come_failed'
    | 'without_cost'
    | 'without_price';
  text: string;
  count: number;
  /** Address inside the application. */
  to: string;
}

/** What waits; what is counted over whole lists is counted beside the work, and says as of when. */
export interface Today {
  lines: Waiting[];
  /** When the lists were last counted; null: not yet, or not shown. */
  at: string | null;
  /** Something has changed since; they are being counted again. */
  stale: boolean;
}

export interface Found {
  kind: 'item' | 'quote' | 'record';
  id: string;
  title: string;
  detail: string;
  to: string;
}
