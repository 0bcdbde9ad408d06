import { Navigate, Route, Routes } from 'react-router';
import { Bill } from './costs/bill.tsx';
import { CostSheet } from './costs/cost-sheet.tsx';
import { Costs } from './costs/costs.tsx';
import { ApiPage } from './described/api-page.tsx';
import { Suppliers } from './costs/suppliers-view.tsx';
import { FindingsView } from './findings/findings.tsx';
import { Frame } from './frame/frame.tsx';
import { ItemView } from './items/item-view.tsx';
import { Items } from './items/items.tsx';
import { ItemsFromFile } from './items/items-from-file.tsx';
import { Variants } from './items/variants.tsx';
import { Ledger } from './ledger/ledger.tsx';
import { MakesNew } from './setup/make-new.tsx';
import { RequestView } from './ledger/request-view.tsx';
import { PostingView } from './ledger/posting.tsx';
import { FallsView } from './lists/falls.tsx';
import { CompareDays } from './lists/compare-days.tsx';
import { ListView } from './lists/list-view.tsx';
import { OwnAccount } from './people/own-account.tsx';
import { SignIn } from './people/sign-in.tsx';
import { useMe } from './people/use-me.ts';
import { ChangeOrders } from './quotes/change-orders.tsx';
import { PriceCheck } from './quotes/price-check.tsx';
import { QuoteEditor } from './quotes/quote-editor.tsx';
import { Quotes } from './quotes/quotes.tsx';
import { Recipes } from './recipes/recipes.tsx';
import { Ladders } from './rounding/ladders.tsx';
import { Setup } from './setup/setup.tsx';
import { ChangesToCome } from './to-come/changes-to-come.tsx';
import { WorkspaceFile } from './setup/workspace-file.tsx';
import { Today } from './today/today.tsx';
import { WorksheetView } from './worksheets/worksheet.tsx';
import { Worksheets } from './worksheets/worksheets.tsx';

export function App() {
  const { me, loading, problem } = useMe();
  if (loading) return <p className="p-6 text-faint">One moment …</p>;
  if (problem)
    return (
      <p role="alert" className="p-6 text-stop">
        {problem}
      </p>
    );
  if (!me) return <SignIn />;
  return (
    <Frame>
      <MakesNew>
        <Routes>
          <Route path="/" element={<Navigate to="/today" replace />} />
          <Route path="/today" element={<Today />} />
          <Route path="/costs" element={<Costs />} />
          <Route path="/costs/:id" element={<CostSheet />} />
          <Route path="/suppliers" element={<Suppliers />} />
          <Route path="/bills/:id" element={<Bill />} />
          <Route path="/items" element={<Items />} />
          <Route path="/items/file" element={<ItemsFromFile />} />
          <Route path="/items/:id/variants" element={<Variants />} />
          <Route path="/items/:id" element={<ItemView />} />
          <Route path="/recipes/:id?" element={<Recipes />} />
          <Route path="/ladders/:id?" element={<Ladders />} />
          <Route path="/lists/:id?" element={<ListView />} />
          <Route path="/lists/:id/days" element={<CompareDays />} />
          <Route path="/falls" element={<FallsView />} />
          <Route path="/worksheets" element={<Worksheets />} />
          <Route path="/worksheets/:id" element={<WorksheetView />} />
          <Route path="/findings" element={<FindingsView />} />
          <Route path="/quotes" element={<Quotes />} />
          <Route path="/quotes/:id" element={<QuoteEditor />} />
          <Route path="/quotes/:id/changes" element={<ChangeOrders />} />
          <Route path="/price-check" element={<PriceCheck />} />
          <Route path="/ledger" element={<Ledger />} />
          <Route path="/ledger/requests/:id" element={<RequestView />} />
          <Route path="/ledger/:id" element={<PostingView />} />
          <Route path="/setup/:register?" element={<Setup />} />
          <Route path="/account" element={<OwnAccount />} />
          <Route path="/changes-to-come" element={<ChangesToCome />} />
          <Route path="/workspace-file" element={<WorkspaceFile />} />
          <Route path="/api-description" element={<ApiPage />} />
          <Route path="*" element={<p className="p-6">There is nothing at this address.</p>} />
        </Routes>
      </MakesNew>
    </Frame>
  );
}
