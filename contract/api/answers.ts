import type { ChainView } from '../change-orders.ts';
import type { BillSummary, BillView } from '../bills.ts';
import type { ComparedDays } from '../compare-days.ts';
import type { Connection, SupplierCatalogue } from '../connections.ts';
import type { FetchedRates } from '../fetched-rates.ts';
import type { Falls } from '../falls.ts';
import type { LockstepPreview } from '../lockstep.ts';
import type { ItemFileCheck, ItemFileTaken } from '../item-file.ts';
import type { CostIntake, CostSupplier, SheetEffect, SupplierChoices, SheetSummary, SheetView } from '../costs.ts';
import type { SheetRows } from '../cost-rows.ts';
import type { CostProposal } from '../typed-costs.ts';
import type { MemberDifference } from '../workspace-file/compare.ts';
import type { Findings, FindingsOfChange, MovesOfChange, ShownProof } from '../findings.ts';
import type { ItemCost, ItemPage, ItemValue, ItemWindow, NamedItem } from '../items.ts';
import type {
  AuditRow,
  BuildUp,
  ListAudience,
  ListPrices,
  PostingDetail,
  PostingLines,
  PostingSummary,
  Reversal,
  WouldPost,
} from '../lists.ts';
import type { FoundRecord, NamedRecords } from '../records/found.ts';
import type { Posted, PostingRequest, RequestedPrices } from '../posting-requests.ts';
import type { AccessKey, FreshKey, OwnSession } from '../people.ts';
import type { PriceCheck, QuoteSummary, QuoteTried, QuoteView } from '../quotes.ts';
import type { ReplicaStanding } from '../replica.ts';
import type { Found, Today } from '../today.ts';
import type { ChangeToCome } from '../to-come.ts';
import type { Worksheet, WorksheetPrices } from '../worksheets.ts';
import type { ListPriceRow } from '../list-row.ts';

/** A record of a register: its fields stand in the register's declaration. */
export interface KeptRecord {
  id: string;
  version: number;
  [field: string]: unknown;
}

/** Every answer by its name; docs/api/answers.schema.json is made from it, and the answers of the tests are held to it. */
export interface Answers {
  access_keys: AccessKey[];
  access_key_made: FreshKey;
  audience: ListAudience;
  audit: AuditRow[];
  bill: BillView;
  bills: BillSummary[];
  build_up: BuildUp;
  chain: ChainView;
  changed: { items: number };
  cost_kept: { id: string };
  cost_released: { released: boolean };
  discarded: { discarded: string };
  ended: { ended: number };
  file_difference: {
    day: string;
    /** What is wrong with the file; then nothing is compared. */
    faults: { path: string; expected: string }[];
    members: MemberDifference[];
  };
  findings: Findings;
  findings_of_change: FindingsOfChange;
  moves_of_change: MovesOfChange;
  found: Found[];
  found_records: FoundRecord[];
  named_records: NamedRecords[];
  item: ItemPage;
  item_costs: ItemCost[];
  items: ItemWindow;
  list_prices: ListPrices;
  list_rows: ListPriceRow[];
  would_post: WouldPost;
  compared_days: ComparedDays;
  posted: Posted;
  reversed: { posting: string; lines: number };
  posting_request: PostingRequest;
  posting_requests: PostingRequest[];
  requested_prices: RequestedPrices;
  posting: PostingDetail;
  posting_lines: PostingLines;
  postings: PostingSummary[];
  country_of: { address: string; country: string | null };
  price_check: PriceCheck;
  proofs: ShownProof[];
  quote: QuoteView;
  quote_tried: QuoteTried;
  quotes: QuoteSummary[];
  changes_to_come: ChangeToCome[];
  change_to_come: ChangeToCome;
  record: KeptRecord;
  records: KeptRecord[];
  removed: { removed: boolean };
  replica: ReplicaStanding;
  reversal: Reversal;
  sessions: OwnSession[];
  set_aside: { setAside: boolean };
  sheet: SheetView;
  sheet_effect: SheetEffect;
  sheet_rows: SheetRows;
  sheet_received: { id: string; byItself: boolean };
  sheets: SheetSummary[];
  connection: Connection;
  connections: Connection[];
  supplier_catalogue: SupplierCatalogue;
  cost_followed: { follow: boolean };
  items_named: NamedItem[];
  item_words: string[];
  item_values: ItemValue[];
  items_by_category: { category: string; items: number }[];
  item_file: ItemFileCheck;
  item_file_taken: ItemFileTaken;
  item_files: ItemFileTaken[];
  cost_suppliers: CostSupplier[];
  supplier_choices: SupplierChoices;
  fetched_rates: FetchedRates;
  /** `left`: lines that name no item of ours, and were left out. */
  bill_from_file: { id: string; left: string[] };
  falls: Falls;
  cost_proposal: CostProposal;
  lockstep_preview: LockstepPreview;
  taken_back: { costs: number };
  /** `later`: it is done in the background, and the figures are not known yet. */
  taken_in: {
    costs: number;
    newItems: number;
    leftOut: number;
    waiting: number;
    /** The worksheet of lists that follow by themselves. */
    worksheet: string | null;
    later: boolean;
  };
  cost_intake: { intake: CostIntake | null };
  today: Today;
  worksheet: Worksheet;
  worksheet_prices: WorksheetPrices;
  worksheets: Worksheet[];
}
