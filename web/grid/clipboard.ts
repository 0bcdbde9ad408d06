import { harmless } from '#contract/harmless.ts';

export { asTyped } from '#contract/harmless.ts';

/** Cells as a spreadsheet puts them on the clipboard: tabs, lines, quotation marks where a cell holds one of these. */
export function toText(cells: readonly (readonly string[])[]): string {
  const text = cells
    .map((row) => row.map((c) => (/[\t\n\r"]/.test(c) ? `"${c.replaceAll('"', '""')}"` : c)).join('\t'))
    .join('\r\n');
  // a last row of one empty cell would look like the line break that closes the block
  return text.endsWith('\r\n') ? `${text}""` : text;
}

/** Cells for another program: no text among them begins what a spreadsheet would carry out. */
export function harmlessBlock(
  cells: readonly (readonly string[])[],
  numeric: (column: number) => boolean,
): readonly (readonly string[])[] {
  return cells.map((row) => row.map((cell, c) => (numeric(c) ? cell : harmless(cell))));
}

export function toHtml(cells: readonly (readonly string[])[]): string {
  const safe = (c: string) =>
    c.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;').replaceAll('\n', '<br>');
  return `<table>${cells.map((row) => `<tr>${row.map((c) => `<td>${safe(c)}</td>`).join('')}</tr>`).join('')}</table>`;
}

/** Reads pasted text. One line break at the very end is how spreadsheets close the last row: it is no row of its own. */
export function fromText(text: string): string[][] {
  const rows: string[][] = [[]];
  let cell = '';
  let quoted = false;
  let started = false;
  const endCell = () => {
    rows[rows.length - 1]!.push(cell);
    cell = '';
    started = false;
  };
  for (let i = 0; i < text.length; i++) {
    const c = text[i]!;
    if (quoted) {
      if (c !== '"') cell += c;
      else if (text[i + 1] === '"') {
        cell += '"';
        i++;
      } else quoted = false;
    } else if (c === '"' && !started) {
      quoted = true;
      started = true;
    } else if (c === '\t') endCell();
    else if (c === '\n' || c === '\r') {
      if (c === '\r' && text[i + 1] === '\n') i++;
      endCell();
      if (i === text.length - 1) return rows;
      rows.push([]);
    } else {
      cell += c;
      started = true;
    }
  }
  endCell();
  return rows;
}

/** Reads a pasted HTML table; null where there is none. The markup is only read, never put into the page. */
export function fromHtml(html: string): string[][] | null {
  if (!/<t[dh][\s>]/i.test(html)) return null;
  const table = new DOMParser().parseFromString(html, 'text/html').querySelector('table');
  if (!table) return null;
  return [...table.rows].map((row) =>
    [...row.cells].flatMap((cell) => {
      for (const br of cell.querySelectorAll('br')) br.replaceWith('\n');
      const text = (cell.textContent ?? '')
        .replaceAll('\u00a0', ' ')
        .replace(/[ \t]*\n[ \t]*/g, '\n')
        .trim();
      return [text, ...Array.from({ length: cell.colSpan - 1 }, () => '')];
    }),
  );
}
