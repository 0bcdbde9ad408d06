import writeWorkbook from 'write-excel-file/node';
import { describe, expect, it } from 'vitest';
import { book, text, zip } from './tests/make-workbook.ts';
import { UnreadableSheet } from './unreadable.ts';
import { readPages } from './workbook.ts';

const said = (text: string) => `<c r="A1" t="inlineStr"><is><t>${text}</t></is></c>`;
const why = (bytes: Buffer) =>
  readPages(bytes).then(
    () => 'it was read',
    (e: unknown) => (e instanceof UnreadableSheet ? e.message : `not told: ${String(e)}`),
  );

describe('a workbook that a supplier sends', () => {
  it('a formula is read by the value that was kept with it, a fraction as it was typed', async () => {
    const rows = `<row r="1">${said('R1')}<c r="B1"><f>1/4</f><v>0.25</v></c><c r="C1"><v>0.28999999999999998</v></c><c r="D1"><v>1.2E-2</v></c></row>`;
    expect(await readPages(book(rows))).toEqual([
      { name: 'Prices', rows: [['R1', { n: '0.25' }, { n: '0.29' }, { n: '0.012' }]] },
    ]);
  });

  it('macros in it are never looked at', async () => {
    const macros = { name: 'xl/vbaProject.bin', content: Buffer.alloc(10_000, 7) };
    expect(await readPages(book(`<row r="1">${said('R1')}</row>`, macros))).toEqual([
      { name: 'Prices', rows: [['R1']] },
    ]);
  });

  it.each<[string, () => Buffer | Promise<Buffer>, RegExp]>([
    [
      'that says it comes to a gigabyte',
      () => book('', { ...text('xl/huge.xml', ''), says: 1 << 30 }),
      /larger than 256 MB/,
    ],
    [
      'that packs 300 MB into little and says it is small',
      () => book('', { name: 'xl/bomb.xml', content: Buffer.alloc(300 * 1024 * 1024, 0x20), says: 100 }),
      /larger than 256 MB/,
    ],
    [
      'that declares entities of entities',
      () => book('', text('xl/styles.xml', '<!DOCTYPE a [<!ENTITY b "bbbb"><!ENTITY c "&b;&b;">]><a>&c;</a>')),
      /declares entities/,
    ],
    ['that is cut off in the middle', () => book(`<row r="1">${said('R1')}</row>`).subarray(0, 400), /cut off/],
    [
      'whose parts are damaged',
      () => {
        const bytes = book(`<row r="1">${said('R1')}</row>`);
        return Buffer.concat([bytes.subarray(0, 60), Buffer.alloc(40, 0xff), bytes.subarray(100)]);
      },
      /damaged/,
    ],
    ['that is another kind of archive', () => zip([text('word/document.xml', '<a/>')]), /no workbook/],
    ['without a row', () => book(''), /no sheet of the workbook has a row/],
    [
      'with more parts than any has',
      () => zip(Array.from({ length: 2_001 }, (_, i) => text(`p${i}.txt`, ''))),
      /more parts/,
    ],
  ])('one %s is refused, and the words say why', async (_, bytes, expected) => {
    expect(await why(await bytes())).toMatch(expected);
  });

  it('20,000 rows keep their order and their rows’ numbers', async () => {
    const cells = Array.from({ length: 20_000 }, (_, i) => [{ value: `R${i}` }, { value: i + 0.5, type: Number }]);
    const [page] = await readPages(await (await writeWorkbook(cells as never)).toBuffer());
    expect([page!.rows.length, page!.rows[19_999]]).toEqual([20_000, ['R19999', { n: '19999.5' }]]);
  });
});
