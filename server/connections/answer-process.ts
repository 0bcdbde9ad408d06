import { workOnce } from '../platform/limited-process.ts';
import { type AskedOfAnswer, SupplierTrouble, ofAnswer } from './supplier-answers.ts';

workOnce(
  ({ text, asked }: { text: Uint8Array; asked: AskedOfAnswer }) => ofAnswer(Buffer.from(text).toString('utf8'), asked),
  (error) => error instanceof SupplierTrouble,
);
