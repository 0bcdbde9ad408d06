import { toast } from 'sonner';
import type { RowDecision, SheetCorrection, SheetView } from '#contract/costs.ts';
import { problemOf } from '../api.ts';
import { costsApi } from './endpoints.ts';

/** Holds rows, leaves them out, corrects one, or reads it as it came again. */
export function useRowDecisions(sheet: SheetView) {
  const [correct, { isLoading }] = costsApi.useCorrectRowsMutation();
  const send = async (rows: readonly (SheetCorrection & { row: number; decision: RowDecision })[]) => {
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
      return true;
    } catch (e) {
      toast.error(problemOf(e).message);
      return false;
    }
  };
  return { send, isLoading };
}
