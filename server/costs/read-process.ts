import { xmlPages } from '../ubl/documents.ts';
import { isXml } from '../ubl/xml.ts';
import { packPages } from './read-table.ts';
import { UnreadableSheet } from './unreadable.ts';
import { readPages } from './workbook.ts';

/** What the process says of the one file it reads: its sheets as packed JSON, or why it cannot be read. */
export type Said = { readonly pages: Buffer } | { readonly unreadable: string };

// A process of its own for one file: whatever a file makes of its memory or its time ends with it.
process.on('disconnect', () => process.exit());
process.once('message', ({ content }: { content: Uint8Array }) => {
  const say = (said: Said) => process.send!(said, () => process.disconnect());
  const bytes = Buffer.from(content);
  Promise.resolve()
    .then(() => (isXml(bytes) ? xmlPages(bytes) : readPages(bytes)))
    .then(
      (pages) => say({ pages: packPages(pages)! }),
      (error: unknown) => {
        if (!(error instanceof UnreadableSheet)) throw error;
        say({ unreadable: error.message });
      },
    );
});
