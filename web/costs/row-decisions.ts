import { useState } from 'react';
import { toast } from 'sonner';
import type { RowDecision, SheetCorrection, SheetView } from '#contract/costs.ts';
import { problemOf } from '../api.ts';
import { costsApi } from './endpoints.ts';
import { useFreshSheet } from './fresh-sheet.ts';

/** Holds rows, leaves them out, corrects one, or reads it as it came again. `alsoAgain`: reads again what shows them. */
export function useRowDecisions(sheet: SheetView, alsoAgain?: () => Promise<unknown>) {
  const [correct] = costsApi.useCorrectRowsMutation();
  const [isLoading, setLoading] = useState(false);
  const fresh = useFreshSheet(sheet.id);
  const send = async (rows: readonly (SheetCorrection & { row: number; decision: RowDecision })[]) => {
    setLoading(true);
    try {
      await correct({
        id: sheet.id,
        version: sheet.version,
        rows: rows.map(({ row, decision, reason, cells, add }) => ({
          row,
          decision,
          reason: reason || null,
          cells: cells ?? {},
          add: add ?? null,
        })),
      }).unwrap();
      await Promise.all([fresh(), alsoAgain?.()]);
      return true;
    } catch (e) {
      toast.error(problemOf(e).message);
      return false;
    } finally {
      setLoading(false);
    }
  };
  return { send, isLoading };
}
