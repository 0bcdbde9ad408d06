import { workOnce } from '../platform/limited-process.ts';
import { xmlPages } from '../ubl/documents.ts';
import { isXml } from '../ubl/xml.ts';
import { packPages } from './read-table.ts';
import { UnreadableSheet } from './unreadable.ts';
import { readPages } from './workbook.ts';

workOnce(
  async ({ content }: { content: Uint8Array }): Promise<Uint8Array> => {
    const bytes = Buffer.from(content);
    return packPages(isXml(bytes) ? xmlPages(bytes) : await readPages(bytes))!;
  },
  (error) => error instanceof UnreadableSheet,
);
