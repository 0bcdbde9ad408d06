import { correctRowsBody, followBody, knownCodeBody, takeInBody, turnDownBody } from '../costs.ts';
import { releaseCostBody, typedCostBody } from '../typed-costs.ts';
import { matchBody } from '../sheet-match.ts';
import { versionBody } from '../quotes.ts';
import { billBody, changedBillBody, finalBillBody } from '../bills.ts';
import { selfPostingBody } from '../worksheets.ts';
import { ROW_SHOWS } from '../cost-rows.ts';
import { LINES_QUERY } from '../windows.ts';
import { get, post, put, remove } from './declare.ts';

export const costRoutes = {
  sheets: get('/cost-sheets', 'The cost sheets that came, the newest first', 'sheets', {
    right: 'see_cost',
    reads: ['sheets'],
  }),
  receive: post('/cost-sheets', 'Brings in a cost sheet (CSV or XLSX), which then waits', 'sheet_received', {
    right: 'take_costs',
    query: { supplier: 'id of the supplier it came from', file: 'name of the file' },
    body: 'bytes',
    changes: ['sheets', 'costs', 'catalogue', 'worksheets'],
  }),
  sheet: get('/cost-sheets/:id', 'A cost sheet with what it would change, or did', 'sheet', {
    right: 'see_cost',
    reads: ['sheets', 'catalogue', 'costs'],
  }),
  rows: get(
    '/cost-sheets/:id/rows',
    'A stretch of the rows of a sheet, with what taking each in would change',
    'sheet_rows',
    {
      right: 'see_cost',
      query: {
        ...LINES_QUERY,
        show: `which: ${ROW_SHOWS.join(', ')}; none: all`,
        moves: 'the state of what the sheet would move (effect): each row tells what it would',
      },
      reads: ['sheets', 'catalogue', 'costs', 'rules', 'prices'],
    },
  ),
  match: put('/cost-sheets/:id/match', 'Says how a sheet is to be read', 'sheet', {
    right: 'take_costs',
    body: matchBody,
    changes: ['sheets'],
  }),
  file: get(
    '/cost-sheets/:id/file',
    'The file as it came',
    { bytes: 'application/octet-stream' },
    { right: 'see_cost' },
  ),
  effect: get('/cost-sheets/:id/effect', 'Which computed prices a sheet would move, and how far', 'sheet_effect', {
    right: 'see_cost',
    reads: ['sheets', 'catalogue', 'costs', 'rules', 'prices'],
  }),
  sayCode: post('/cost-sheets/:id/codes', 'Says which item a supplier’s code means, now and later', 'sheet', {
    right: 'take_costs',
    body: knownCodeBody,
    changes: ['sheets'],
  }),
  suppliers: get('/cost-suppliers', 'Suppliers with what arrived of them', 'cost_suppliers', {
    right: 'see_cost',
    reads: ['sheets'],
  }),
  choices: get('/supplier-choices', 'What another choice of whose cost counts would change', 'supplier_choices', {
    right: 'see_cost',
    reads: ['catalogue', 'costs', 'rules'],
  }),
  follow: put('/cost-suppliers/:id', 'Says whether a supplier’s costs are taken in by themselves', 'cost_followed', {
    right: 'edit_rules',
    body: followBody,
    changes: ['sheets'],
  }),
  selfPosting: put(
    '/cost-suppliers/:id/self-posting',
    'Says which lists post themselves once costs of a supplier are taken in',
    'cost_suppliers',
    { right: 'post', body: selfPostingBody, changes: ['sheets'] },
  ),
  correct: put('/cost-sheets/:id/rows', 'Holds, turns down or corrects rows of a sheet', 'sheet', {
    right: 'take_costs',
    body: correctRowsBody,
    changes: ['sheets'],
  }),
  takeIn: post('/cost-sheets/:id/take-in', 'Takes costs of a sheet in, all or some', 'taken_in', {
    right: 'take_costs',
    body: takeInBody,
    changes: ['sheets', 'costs', 'catalogue', 'worksheets'],
  }),
  intake: get('/cost-sheets/:id/intake', 'How far a sheet that is being taken in has come', 'cost_intake', {
    right: 'see_cost',
  }),
  cancelIntake: post(
    '/cost-sheets/:id/intake/cancel',
    'Stops a sheet from being taken in: nothing of it is',
    'cost_intake',
    {
      right: 'take_costs',
    },
  ),
  setAside: post('/cost-sheets/:id/set-aside', 'Turns a sheet down, with the reason', 'set_aside', {
    right: 'take_costs',
    body: turnDownBody,
    changes: ['sheets'],
  }),
  takeBack: post('/cost-sheets/:id/take-back', 'Takes back what a sheet brought', 'taken_back', {
    right: 'take_costs',
    body: versionBody,
    changes: ['sheets', 'costs'],
  }),
  ofItem: get('/items/:id/costs', 'Every cost of an item, by day', 'item_costs', {
    right: 'see_cost',
    reads: ['costs'],
  }),
  type: post('/costs', 'Types a cost of an item', 'cost_kept', {
    right: 'take_costs',
    body: typedCostBody,
    changes: ['costs'],
  }),
  propose: post('/costs/proposal', 'What a cost would change, before it is kept', 'cost_proposal', {
    right: 'take_costs',
    body: typedCostBody,
  }),
  release: post('/costs/:id/release', 'Releases a typed cost, or lets it count again', 'cost_released', {
    right: 'take_costs',
    body: releaseCostBody,
    changes: ['costs'],
  }),
  bills: get('/bills', 'The bills of suppliers, the newest first', 'bills', { right: 'see_cost', reads: ['sheets'] }),
  bill: get('/bills/:id', 'A bill with what its costs would change, or did', 'bill', {
    right: 'see_cost',
    reads: ['sheets', 'catalogue', 'costs'],
  }),
  billFromFile: post('/bill-files', 'Writes down a bill that came as a UBL invoice, as a draft', 'bill_from_file', {
    right: 'take_costs',
    query: { supplier: 'id of the supplier it came from' },
    body: 'bytes',
    changes: ['sheets'],
  }),
  billAsFile: get('/bills/:id/ubl', 'A bill as a UBL invoice', { bytes: 'application/xml' }, { right: 'see_cost' }),
  writeBill: post('/bills', 'Writes down a bill that was received; its costs do not count yet', 'bill', {
    right: 'take_costs',
    body: billBody,
    changes: ['sheets'],
  }),
  changeBill: put('/bills/:id', 'Changes a bill that is not final', 'bill', {
    right: 'take_costs',
    body: changedBillBody,
    changes: ['sheets'],
  }),
  finalBill: post('/bills/:id/final', 'Makes a bill final: from its day on its costs count', 'bill', {
    right: 'take_costs',
    body: finalBillBody,
    changes: ['sheets', 'costs', 'worksheets'],
  }),
  takeBackBill: post('/bills/:id/take-back', 'Takes back what a final bill brought; it is a draft again', 'bill', {
    right: 'take_costs',
    body: versionBody,
    changes: ['sheets', 'costs'],
  }),
  dropBill: remove('/bills/:id', 'Throws away a bill that is not final', 'discarded', {
    right: 'take_costs',
    body: versionBody,
    changes: ['sheets'],
  }),
} as const;
