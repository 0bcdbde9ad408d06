import { describe, expect, it } from 'vitest';
import { readWorkspace } from './workspace-file.ts';

const file = (suppliers: string) =>
  `{"format": "hard-ledger workspace", "version": 1, "currency": "EUR",\n "suppliers": [${suppliers}]}`;

describe('a field that a file names twice', () => {
  it('is refused with its place, instead of the last one counting without a word', () => {
    const read = readWorkspace(file('{"id": "s", "name": "S", "currency": "EUR",\n  "currency": "GBP"}'));
    expect(read.ok ? [] : read.faults).toEqual([
      {
        path: '$.suppliers[0].currency',
        value: '"currency": "GBP"}]}',
        expected: 'named once in its row; it is named again in line 3, column 3',
      },
    ]);
  });

  it('also inside of a part of a row', () => {
    const read = readWorkspace(
      file('{"id": "s", "name": "S", "currency": "EUR", "landed": {"dutyPercent": "1", "dutyPercent": "2"}}'),
    );
    expect(read.ok ? [] : read.faults.map((f) => f.path)).toEqual(['$.suppliers[0].landed.dutyPercent']);
  });

  it('is nothing where two rows each name it', () => {
    const row = (id: string) => `{"id": "${id}", "name": "${id}", "currency": "EUR"}`;
    expect(readWorkspace(file(`${row('s')}, ${row('t')}`)).ok).toBe(true);
  });
});
