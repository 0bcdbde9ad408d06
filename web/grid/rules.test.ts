import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { compareNumbers } from '#contract/filters.ts';
import { arrange, matcher } from './arrange.ts';
import { asTyped, fromHtml, fromText, harmlessBlock, toHtml, toText } from './clipboard.ts';
import { type Column, arranged, moveColumn, startingArrangement } from './columns.ts';
import { History, type Sheet, planBlock, planFillDown, planPaste } from './edits.ts';
import { type Key, type Selection, moved } from './selection.ts';

const cells = fc.array(
  fc.array(fc.string({ maxLength: 8, unit: fc.constantFrom('a', '7', '"', '\t', '\n', ' ', ',', '<', '&') }), {
    minLength: 1,
    maxLength: 4,
  }),
  { minLength: 1, maxLength: 4 },
);
const even = cells.map((rows) => {
  const width = Math.max(...rows.map((r) => r.length));
  return rows.map((r) => [...r, ...Array.from({ length: width - r.length }, () => 'x')]);
});

describe('the clipboard', () => {
  it('what is copied comes back cell for cell, whatever stands in it', () => {
    fc.assert(
      fc.property(even, (rows) => void expect(fromText(toText(rows))).toEqual(rows)),
      { numRuns: 2000 },
    );
  });
  it('no copied text is carried out as a formula elsewhere, numbers are left alone, and all of it comes back as it was', () => {
    const cells = [['=1+1', '-5', '@x', "'", 'plain', '\t=x', '+46']];
    const out = harmlessBlock(cells, (c) => c === 1);
    expect(out).toEqual([["'=1+1", '-5', "'@x", "'", 'plain', "'\t=x", "'+46"]]);
    expect(fromText(toText(out)).map((row) => row.map(asTyped))).toEqual(cells);
  });
  it.each<[string, string, string[][]]>([
    [
      'one line break at the end is no row of its own',
      '1\t2\r\n3\t4\r\n',
      [
        ['1', '2'],
        ['3', '4'],
      ],
    ],
    ['but an empty last row is', '1\r\n\r\n', [['1'], ['']]],
    ['old Mac line ends', '1\r2', [['1'], ['2']]],
    ['a quoted cell with tab, line break and quotation mark', '"a\tb\nc ""d"""\te', [['a\tb\nc "d"', 'e']]],
    ['a quotation mark inside a word is a letter', '12" ring\tb', [['12" ring', 'b']]],
    ['empty cells', '\t\t', [['', '', '']]],
    ['nothing', '', [['']]],
  ])('%s', (_, text, rows) => expect(fromText(text)).toEqual(rows));
  it('reads a table that a spreadsheet put there as HTML, and leaves other HTML alone', () => {
    expect(
      fromHtml(
        '<meta charset="utf-8"><table><tr><td colspan="2">a&amp;b</td><td>1.234,50</td></tr><tr><td>x<br>y</td><td></td><td>&nbsp;z</td></tr></table>',
      ),
    ).toEqual([
      ['a&b', '', '1.234,50'],
      ['x\ny', '', 'z'],
    ]);
    expect(fromHtml('<p>text</p>')).toBeNull();
    expect(fromHtml(toHtml([['<b>', 'a & b']]))).toEqual([['<b>', 'a & b']]);
  });
});

interface Row {
  id: string;
  a: string;
  b: string;
  c: string;
}
const text = (id: 'a' | 'b' | 'c', more: Partial<Column<Row>> = {}): Column<Row> => ({
  id,
  title: id.toUpperCase(),
  width: 80,
  value: (r) => r[id],
  parse: (t) => ({ ok: true, value: t.trim() }),
  ...more,
});
const number = text('b', {
  numeric: true,
  parse: (t) => (/^\d*$/.test(t) ? { ok: true, value: t } : { ok: false, message: `"${t}" is not a number` }),
});
const readOnly: Column<Row> = { id: 'c', title: 'C', width: 80, value: (r) => r.c };
function sheet(count: number, columns: Column<Row>[] = [text('a'), number, readOnly]): Sheet<Row> {
  const rows = Array.from({ length: count }, (_, i): Row => ({ id: `r${i}`, a: `a${i}`, b: String(i), c: `c${i}` }));
  return {
    columns,
    size: { rows: count, cols: columns.length },
    rowAt: (r) => rows[r]!,
    keyOf: (r) => r.id,
    valueAt: (r, c) => columns[c]!.value(rows[r]!),
  };
}
const block = (top: number, left: number, bottom = top, right = left) => ({ top, left, bottom, right });
const after = (plan: { edits: readonly { key: string; column: string; after: string }[] }) =>
  plan.edits.map((e) => `${e.key}.${e.column}=${e.after}`);

describe('pasting', () => {
  it('one value fills the whole selection', () =>
    expect(after(planPaste(sheet(3), block(0, 0, 2, 0), [['z']]))).toEqual(['r0.a=z', 'r1.a=z', 'r2.a=z']));
  it('a block is repeated when the selection is a multiple of it', () =>
    expect(after(planPaste(sheet(4), block(0, 0, 3, 0), [['x'], ['y']]))).toEqual([
      'r0.a=x',
      'r1.a=y',
      'r2.a=x',
      'r3.a=y',
    ]));
  it('otherwise it is put down once, from the corner', () =>
    expect(
      after(
        planPaste(sheet(4), block(1, 0, 3, 0), [
          ['x', '8'],
          ['y', '9'],
        ]),
      ),
    ).toEqual(['r1.a=x', 'r1.b=8', 'r2.a=y', 'r2.b=9']));
  it('it is cut at the edge of the grid', () =>
    expect(
      after(
        planPaste(sheet(2), block(1, 1), [
          ['7', 'q', 'r'],
          ['8', 's', 't'],
        ]),
      ),
    ).toEqual(['r1.b=7']));
  it('cells that can only be read are left alone, and counted', () =>
    expect(
      planPaste(sheet(2), block(0, 1), [
        ['5', 'no'],
        ['6', 'no'],
      ]),
    ).toMatchObject({
      skipped: 2,
      edits: [
        { key: 'r0', column: 'b', before: '0', after: '5' },
        { key: 'r1', column: 'b', before: '1', after: '6' },
      ],
    }));
  it('what a column cannot read is refused and named, the rest is taken', () => {
    const plan = planPaste(sheet(2), block(0, 1), [['many'], ['6']]);
    expect(plan.refused).toEqual([{ row: 0, column: 'B', text: 'many', message: '"many" is not a number' }]);
    expect(after(plan)).toEqual(['r1.b=6']);
  });
  it('a cell that keeps its value is no change', () =>
    expect(planBlock(sheet(1), block(0, 0), () => 'a0').edits).toEqual([]));
  it('fill down repeats the first row', () => {
    const s = sheet(3);
    expect(after(planFillDown(s, block(0, 0, 2, 1), (r, c) => s.valueAt(r, c)))).toEqual([
      'r1.a=a0',
      'r1.b=0',
      'r2.a=a0',
      'r2.b=0',
    ]);
  });
});

describe('undo', () => {
  it('takes back one whole operation, and redo does it again', () => {
    const history = new History();
    const edits = planPaste(sheet(3), block(0, 0, 2, 0), [['z']]).edits;
    history.record(edits);
    expect(history.undo()!.map((e) => [e.before, e.after])).toEqual([
      ['z', 'a0'],
      ['z', 'a1'],
      ['z', 'a2'],
    ]);
    expect(history.redo()).toEqual(edits);
    history.undo();
    history.record([edits[0]!]);
    expect(history.redo()).toBeNull();
    expect(history.undo()).toHaveLength(1);
    expect(history.undo()).toBeNull();
  });
});

describe('moving', () => {
  const size = { rows: 100, cols: 5 };
  const at = (row: number, col: number): Selection => ({ anchor: { row, col }, active: { row, col } });
  const press = (from: Selection, key: string, mod: Partial<Key> = {}, filled = (r: number, _c: number) => r < 10) =>
    moved(from, { key, ctrl: false, shift: false, ...mod }, size, 20, filled);
  it.each<[string, Partial<Key>, [number, number], [number, number]]>([
    ['ArrowDown', {}, [5, 2], [6, 2]],
    ['ArrowUp', {}, [0, 2], [0, 2]],
    ['ArrowRight', {}, [5, 4], [5, 4]],
    ['Home', {}, [5, 3], [5, 0]],
    ['End', {}, [5, 1], [5, 4]],
    ['Home', { ctrl: true }, [5, 3], [0, 0]],
    ['End', { ctrl: true }, [5, 1], [99, 4]],
    ['PageDown', {}, [5, 2], [25, 2]],
    ['PageDown', {}, [95, 2], [99, 2]],
    ['PageUp', {}, [5, 2], [0, 2]],
    ['ArrowDown', { ctrl: true }, [2, 0], [9, 0]],
    ['ArrowDown', { ctrl: true }, [9, 0], [99, 0]],
    ['ArrowUp', { ctrl: true }, [50, 0], [9, 0]],
    ['Enter', {}, [5, 2], [6, 2]],
    ['Enter', { shift: true }, [5, 2], [4, 2]],
    ['Tab', {}, [5, 2], [5, 3]],
    ['Tab', { shift: true }, [5, 2], [5, 1]],
  ])('%s %j takes %j to %j', (key, mod, [row, col], to) => {
    const { active } = press(at(row, col), key, mod)!;
    expect([active.row, active.col]).toEqual(to);
  });
  it('Tab past the last cell of a row leaves the grid, so that nobody is caught in it', () => {
    expect(press(at(5, 4), 'Tab')).toBeNull();
    expect(press(at(5, 0), 'Tab', { shift: true })).toBeNull();
  });
  it('Shift extends the selection from where it began, also over the frozen edge', () => {
    const wide = press(press(at(5, 2), 'ArrowLeft', { shift: true })!, 'End', { shift: true })!;
    expect(wide).toEqual({ anchor: { row: 5, col: 2 }, active: { row: 5, col: 4 } });
  });
  it('other keys are not taken', () => expect(press(at(5, 2), 'q')).toBeNull());
});

describe('sorting and filtering', () => {
  it('numbers are compared exactly, far beyond what a double can hold', () => {
    fc.assert(
      fc.property(
        fc.bigInt({ min: -(10n ** 24n), max: 10n ** 24n }),
        fc.bigInt({ min: -(10n ** 24n), max: 10n ** 24n }),
        fc.integer({ min: 0, max: 8 }),
        (a, b, places) => {
          const decimal = (n: bigint) => {
            const s = String(n < 0n ? -n : n).padStart(places + 1, '0');
            return `${n < 0n ? '-' : ''}${s.slice(0, s.length - places)}${places ? `.${s.slice(-places)}` : ''}`;
          };
          expect(Math.sign(compareNumbers(decimal(a), decimal(b)))).toBe(a < b ? -1 : a > b ? 1 : 0);
        },
      ),
      { numRuns: 2000 },
    );
    expect(compareNumbers('1.50', '1.5')).toBe(0);
  });
  const rows: Row[] = [
    { id: '1', a: 'rope 10', b: '9', c: '' },
    { id: '2', a: 'Rope 2', b: '10', c: 'x' },
    { id: '3', a: 'anchor', b: '', c: 'y' },
  ];
  const columns = [text('a'), number, readOnly];
  const read = (t: string) => (/^\d+$/.test(t) ? t : null);
  it('sorts text as people do and numbers by size; what is empty stays at the end', () => {
    expect(arrange(rows, columns, { column: 'a', down: false }, {}, '', read)).toEqual([2, 1, 0]);
    expect(arrange(rows, columns, { column: 'b', down: false }, {}, '', read)).toEqual([0, 1, 2]);
    expect(arrange(rows, columns, { column: 'b', down: true }, {}, '', read)).toEqual([1, 0, 2]);
  });
  it('filters by a part of the text, by size, by emptiness, and by words in any column', () => {
    expect(arrange(rows, columns, null, { a: 'rope' }, '', read)).toEqual([0, 1]);
    expect(arrange(rows, columns, null, { b: '>9' }, '', read)).toEqual([1]);
    expect(arrange(rows, columns, null, { b: '<=9' }, '', read)).toEqual([0]);
    expect(arrange(rows, columns, null, { c: '=' }, '', read)).toEqual([0]);
    expect(arrange(rows, columns, null, {}, 'rope x', read)).toEqual([1]);
    expect(matcher('>many', true, read)!('5')).toBe(false);
  });
});

describe('arranging columns', () => {
  const columns = [text('a', { frozen: 'start' }), number, { ...readOnly, frozen: 'end' as const }];
  it('frozen ones stand at their edge; hidden ones are gone; an order that was kept survives a new column', () => {
    const start = startingArrangement(columns);
    expect(Object.values(arranged(columns, start)).map((p) => p.map((c) => c.id))).toEqual([['a'], ['b'], ['c']]);
    expect(
      Object.values(arranged(columns, start, true)).map((p) => p.map((c) => c.id)),
      'on a narrow page',
    ).toEqual([['a'], ['b', 'c'], []]);
    expect(arranged(columns, { ...start, hidden: new Set(['b']) }).middle).toEqual([]);
    expect(arranged(columns, { ...start, order: ['b'] }).start.map((c) => c.id)).toEqual(['a']);
    expect(moveColumn(start, 'b', -1).order).toEqual(['b', 'a', 'c']);
    expect(moveColumn(start, 'a', -1)).toBe(start);
    expect(arranged(columns, { ...start, widths: { b: 200 } }).middle[0]!.width).toBe(200);
  });
});
