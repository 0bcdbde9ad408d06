import { expect, it } from 'vitest';
import { shownDifferences } from './differences.ts';

it('of two versions only what differs is shown, by its path, down to the single figure', () => {
  const before = {
    name: 'Counter',
    version: 1,
    uplift: [
      { method: 'markup', value: '58', pack: null },
      { method: 'margin', value: '45', pack: 'drum' },
    ],
    groups: ['1', '2'],
    taxIn: true,
  };
  const after = {
    name: 'Counter',
    version: 2,
    uplift: [{ method: 'markup', value: '60', pack: null }],
    groups: ['1'],
    taxIn: false,
  };
  expect(shownDifferences(before, after)).toEqual({
    rows: [
      { path: 'version', before: '1', after: '2' },
      { path: 'uplift 1, value', before: '58', after: '60' },
      { path: 'uplift 2, method', before: 'margin', after: '–' },
      { path: 'uplift 2, value', before: '45', after: '–' },
      { path: 'uplift 2, pack', before: 'drum', after: '–' },
      { path: 'groups', before: '1; 2', after: '1' },
      { path: 'taxIn', before: 'yes', after: 'no' },
    ],
    same: 3,
  });
  expect(shownDifferences(null, { name: 'new' }).rows).toEqual([{ path: 'name', before: '–', after: 'new' }]);
});
