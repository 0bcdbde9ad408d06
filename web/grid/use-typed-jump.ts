import { useCallback, useRef } from 'react';
import type { Cell } from './columns.ts';
import type { SheetState } from './use-sheet.ts';

/** So long what is typed belongs together, in milliseconds. */
const TOGETHER_MS = 1_000;

/** What is typed over a cell that can only be read leads to the next row whose cell there begins with it. */
export function useTypedJump<Row>(state: SheetState<Row>, { row, col }: Cell, to: (row: number, col: number) => void) {
  const typed = useRef({ text: '', at: 0 });
  const { sheet, away } = state;
  return useCallback(
    (key: string) => {
      const now = performance.now();
      const before = now - typed.current.at < TOGETHER_MS ? typed.current.text : '';
      const text = `${before}${key}`.toLowerCase();
      typed.current = { text, at: now };
      const column = sheet.columns[col];
      if (!column || text.trim() === '') return;
      // the first letter leads on, those after it narrow where one stands
      const from = before === '' ? (row + 1) % Math.max(1, sheet.size.rows) : row;
      if (away) {
        away.seek({ to: 'starts', column: column.id, row: from, down: true, text }).then(
          (found) => found !== null && to(found, col),
          () => undefined,
        );
        return;
      }
      for (let n = 0; n < sheet.size.rows; n++) {
        const at = (from + n) % sheet.size.rows;
        if (sheet.valueAt(at, col).toLowerCase().startsWith(text)) return to(at, col);
      }
    },
    [sheet, away, row, col, to],
  );
}
