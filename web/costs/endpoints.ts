import { connectionRoutes } from '#contract/api/connections.ts';
import { costRoutes } from '#contract/api/costs.ts';
import type { ConnectionBody } from '#contract/connections.ts';
import type { BillBody } from '#contract/bills.ts';
import type { CorrectRowsBody, TakeInBody } from '#contract/costs.ts';
import type { TypedCostBody } from '#contract/typed-costs.ts';
import type { WindowQuery } from '#contract/windows.ts';
import type { SheetMatch } from '#contract/sheet-match.ts';
import type { SelfPostingBody } from '#contract/worksheets.ts';
import { api, changes, reads, readsAll } from '../api.ts';

/** A stretch of the rows of a sheet. */
export interface RowsAsked {
  id: string;
  query: Omit<WindowQuery, 'day'> & { moves: string | null };
}

interface Seen {
  id: string;
  version: number;
}

export const costsApi = api.injectEndpoints({
  endpoints: (b) => ({
    itemCosts: reads(b, costRoutes.ofItem, (id: string) => ({ params: { id } })),
    releaseCost: changes(b, costRoutes.release, ({ id, ...body }: { id: string; released: boolean }) => ({
      params: { id },
      body,
    })),
    proposeCost: changes(b, costRoutes.propose, (body: TypedCostBody) => ({ body })),
    typeCost: changes(b, costRoutes.type, (body: TypedCostBody) => ({ body })),
    sheets: readsAll(b, costRoutes.sheets),
    sheet: reads(b, costRoutes.sheet, (id: string) => ({ params: { id } })),
    sheetRows: reads(b, costRoutes.rows, ({ id, query }: RowsAsked) => ({ params: { id }, query })),
    bringSheet: changes(b, costRoutes.receive, ({ supplier, file }: { supplier: string; file: File }) => ({
      query: { supplier, file: file.name },
      bytes: file,
    })),
    matchSheet: changes(b, costRoutes.match, ({ id, ...body }: Seen & { match: SheetMatch }) => ({
      params: { id },
      body,
    })),
    takeIn: changes(b, costRoutes.takeIn, ({ id, ...body }: { id: string } & TakeInBody) => ({
      params: { id },
      body,
    })),
    correctRows: changes(b, costRoutes.correct, ({ id, ...body }: { id: string } & CorrectRowsBody) => ({
      params: { id },
      body,
    })),
    takeBackSheet: changes(b, costRoutes.takeBack, ({ id, ...body }: Seen) => ({ params: { id }, body })),
    bills: readsAll(b, costRoutes.bills),
    bill: reads(b, costRoutes.bill, (id: string) => ({ params: { id } })),
    billFromFile: changes(b, costRoutes.billFromFile, ({ supplier, file }: { supplier: string; file: File }) => ({
      query: { supplier },
      bytes: file,
    })),
    writeBill: changes(b, costRoutes.writeBill, (body: BillBody) => ({ body })),
    changeBill: changes(b, costRoutes.changeBill, ({ id, ...body }: Seen & BillBody) => ({ params: { id }, body })),
    finalBill: changes(b, costRoutes.finalBill, ({ id, ...body }: Seen & { looked: boolean }) => ({
      params: { id },
      body,
    })),
    takeBackBill: changes(b, costRoutes.takeBackBill, ({ id, ...body }: Seen) => ({ params: { id }, body })),
    dropBill: changes(b, costRoutes.dropBill, ({ id, ...body }: Seen) => ({ params: { id }, body })),
    turnDownSheet: changes(b, costRoutes.setAside, ({ id, ...body }: Seen & { reason: string }) => ({
      params: { id },
      body,
    })),
    setSelfPosting: changes(b, costRoutes.selfPosting, ({ id, body }: { id: string; body: SelfPostingBody }) => ({
      params: { id },
      body,
    })),
    sheetIntake: reads(b, costRoutes.intake, (id: string) => ({ params: { id } })),
    cancelIntake: changes(b, costRoutes.cancelIntake, (id: string) => ({ params: { id } })),
    sheetEffect: reads(b, costRoutes.effect, (id: string) => ({ params: { id } })),
    sayCode: changes(b, costRoutes.sayCode, ({ id, ...body }: Seen & { code: string; item: string | null }) => ({
      params: { id },
      body,
    })),
    supplierChoices: readsAll(b, costRoutes.choices),
    costSuppliers: readsAll(b, costRoutes.suppliers),
    followCosts: changes(b, costRoutes.follow, ({ id, ...body }: { id: string; follow: boolean }) => ({
      params: { id },
      body,
    })),
    connections: readsAll(b, connectionRoutes.all),
    itemConnection: reads(b, connectionRoutes.ofItem, (id: string) => ({ params: { id } })),
    browseSupplier: changes(b, connectionRoutes.browse, (body: { address: string; account: string }) => ({ body })),
    keepConnection: changes(b, connectionRoutes.keep, ({ id, ...body }: { id: string } & ConnectionBody) => ({
      params: { id },
      body,
    })),
    fetchNow: changes(b, connectionRoutes.fetch, ({ id, ...body }: Seen) => ({ params: { id }, body })),
    askForConnection: changes(b, connectionRoutes.ask, (body: { item: string; note: string }) => ({ body })),
  }),
});
