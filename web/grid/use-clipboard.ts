import { type ClipboardEvent, useCallback } from 'react';
import { asTyped, fromHtml, fromText, harmlessBlock, toHtml, toText } from './clipboard.ts';
import { type Plan, type Sheet, planBlock, planPaste } from './edits.ts';
import type { Block } from './selection.ts';
import type { SheetState } from './use-sheet.ts';

/** A cell as a copy takes it. */
export const copiedFrom = <Row>(sheet: Sheet<Row>, row: number, col: number): string => {
  const value = sheet.valueAt(row, col);
  return sheet.columns[col]!.copied?.(value) ?? value;
};

/** What is copied, as the clipboard takes it. */
interface Forms {
  readonly text: string;
  readonly html: string;
}

const formsOf = <Row>(sheet: Sheet<Row>, block: Block): Forms => {
  const cells = Array.from({ length: block.bottom - block.top + 1 }, (_, r) =>
    Array.from({ length: block.right - block.left + 1 }, (_, c) => copiedFrom(sheet, block.top + r, block.left + c)),
  );
  const harmless = harmlessBlock(cells, (c) => sheet.columns[block.left + c]!.numeric ?? false);
  return { text: toText(harmless), html: toHtml(harmless) };
};

/** Rows that are not at hand go to the clipboard once they have been fetched. */
async function copyLater(forms: Promise<Forms>): Promise<void> {
  const blob = async (type: string, of: 'text' | 'html') => new Blob([(await forms)[of]], { type });
  await navigator.clipboard.write([
    new ClipboardItem({ 'text/plain': blob('text/plain', 'text'), 'text/html': blob('text/html', 'html') }),
  ]);
}

/** Copies, cuts and pastes blocks, whether their rows are at hand or not. */
export function useClipboard<Row>(state: SheetState<Row>, block: Block, covered: (plan: Plan) => void) {
  const { reach, carryOut, setNotice, sheet } = state;
  const { size } = sheet;
  const onCopy = useCallback(
    (e: ClipboardEvent<HTMLDivElement>) => {
      if (e.target !== e.currentTarget || size.rows === 0) return;
      e.preventDefault();
      const { clipboardData, type } = e;
      let at = 'once' as 'once' | 'later';
      let told: (forms: Forms) => void = () => undefined;
      reach(block.top, block.bottom, (rows) => {
        const forms = formsOf(rows, block);
        if (at === 'once') {
          clipboardData.setData('text/plain', forms.text);
          clipboardData.setData('text/html', forms.html);
        }
        told(forms);
        at = 'later';
        if (type === 'cut') carryOut(planBlock(rows, block, () => ''));
      });
      // the rows were at hand
      if (at === 'later') return;
      at = 'later';
      copyLater(new Promise<Forms>((done) => (told = done))).then(
        () => setNotice(`${block.bottom - block.top + 1} rows are on the clipboard.`),
        () => setNotice('The browser did not let these rows onto the clipboard: copy fewer at once.'),
      );
    },
    [reach, carryOut, setNotice, size.rows, block],
  );
  const onPaste = useCallback(
    (e: ClipboardEvent<HTMLDivElement>) => {
      if (e.target !== e.currentTarget || size.rows === 0) return;
      e.preventDefault();
      const cells = fromHtml(e.clipboardData.getData('text/html')) ?? fromText(e.clipboardData.getData('text/plain'));
      if (cells.length === 0) return;
      const last = Math.min(size.rows - 1, Math.max(block.bottom, block.top + cells.length - 1));
      reach(block.top, last, (rows) => {
        const plan = planPaste(
          rows,
          block,
          cells.map((row) => row.map(asTyped)),
        );
        covered(plan);
        carryOut(plan);
      });
    },
    [reach, carryOut, size.rows, block, covered],
  );
  return { onCopy, onPaste };
}
