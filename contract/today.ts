/** What may wait for somebody, by the heading it stands under; in this order. */
export const HEADINGS = {
  posting_to_agree: 'For a second person',
  posting_refused: 'Refused',
  cost_sheet: 'Costs that arrived',
  taken_by_itself: 'Taken in by themselves',
  posted_by_itself: 'Posted by themselves',
  left_by_itself: 'Left for you to decide',
  connection_asked: 'Connections asked for',
  connection_trouble: 'Suppliers that do not answer',
  price_changes: 'Prices that differ from their recipe',
  without_price: 'Not posted yet',
  falls: 'Would fall',
  held_prices: 'Held until somebody decides',
  below_floor: 'Sold at a loss',
  without_cost: 'Without a price',
  findings: 'Found by the check',
  failing_proofs: 'Proofs that fail',
  to_come_failed: 'Not changed as planned',
  to_come: 'Changes to come',
  prices_end: 'Posted until a day that is near',
  quote_to_approve: 'To approve',
  quote_approved: 'Approved',
} as const;

/** A thing that waits for somebody, and where it is settled. */
export interface Waiting {
  kind: keyof typeof HEADINGS;
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
