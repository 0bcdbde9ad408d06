import { deflateRawSync } from 'node:zlib';

export interface Part {
  readonly name: string;
  readonly content: Buffer;
  /** What the archive says it comes to, where that is a lie. */
  readonly says?: number;
}

/** A ZIP archive, as APPNOTE 6.3 has it. */
export function zip(parts: readonly Part[]): Buffer {
  const files: Buffer[] = [];
  const index: Buffer[] = [];
  let at = 0;
  for (const { name, content, says = content.length } of parts) {
    const packed = deflateRawSync(content);
    const title = Buffer.from(name);
    const common = Buffer.alloc(26);
    common.writeUInt16LE(20, 0);
    common.writeUInt16LE(8, 4);
    common.writeUInt32LE(packed.length, 14);
    common.writeUInt32LE(says, 18);
    common.writeUInt16LE(title.length, 22);
    files.push(Buffer.from('PK\x03\x04', 'latin1'), common, title, packed);
    const entry = Buffer.alloc(16);
    entry.writeUInt32LE(at, 12);
    index.push(Buffer.from('PK\x01\x02\x14\x00', 'latin1'), common.subarray(0, 26), entry.subarray(2), title);
    at += 4 + 26 + title.length + packed.length;
  }
  const central = Buffer.concat(index);
  const end = Buffer.alloc(18);
  end.writeUInt16LE(parts.length, 4);
  end.writeUInt16LE(parts.length, 6);
  end.writeUInt32LE(central.length, 8);
  end.writeUInt32LE(at, 12);
  return Buffer.concat([...files, central, Buffer.from('PK\x05\x06', 'latin1'), end]);
}

const XML = '<?xml version="1.0" encoding="UTF-8"?>';
const MAIN = 'http://schemas.openxmlformats.org/spreadsheetml/2006/main';
const OFFICE = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';
const PACKAGE = 'http://schemas.openxmlformats.org/package/2006/relationships';
export const text = (name: string, content: string): Part => ({ name, content: Buffer.from(XML + content) });

/** The smallest workbook of one sheet, and what is put beside or instead. */
export const book = (rows: string, ...more: Part[]): Buffer =>
  zip([
    text(
      'xl/workbook.xml',
      `<workbook xmlns="${MAIN}" xmlns:r="${OFFICE}"><sheets><sheet name="Prices" sheetId="1" r:id="r1"/></sheets></workbook>`,
    ),
    text(
      'xl/_rels/workbook.xml.rels',
      `<Relationships xmlns="${PACKAGE}"><Relationship Id="r1" Type="${OFFICE}/worksheet" Target="worksheets/sheet1.xml"/></Relationships>`,
    ),
    text('xl/worksheets/sheet1.xml', `<worksheet xmlns="${MAIN}"><sheetData>${rows}</sheetData></worksheet>`),
    ...more,
  ]);
