/** A thing that waits for somebody, and where it is settled. */
export interface Waiting {
  kind:
    | 'cost_sheet'
    | 'price_changes'
    | 'held_prices'
    | 'below_floor'
    | 'quote_to_approve'
    | 'findings'
    | 'hand_set_ends'
    | 'quote_approved'
    | 'without_cost'
    | 'without_price';
  text: string;
  count: number;
  /** Address inside the application. */
  to: string;
}

export interface Found {
  kind: 'item' | 'list' | 'quote' | 'recipe' | 'ladder' | 'record';
  id: string;
  title: string;
  detail: string;
  to: string;
}
