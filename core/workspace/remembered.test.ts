import { expect, test } from 'vitest';
import { REMEMBERED, Remembered } from './remembered.ts';

test('What is asked for again and again is worked out once; what nobody asks for makes room', () => {
  const kept = new Remembered();
  const worked: string[] = [];
  const ask = (key: string) => kept.get(key, () => (worked.push(key), `of ${key}`));
  for (let n = 0; n < 3 * REMEMBERED; n++) {
    expect(ask('often')).toBe('of often');
    ask(`item ${n}`);
  }
  expect(worked.filter((k) => k === 'often')).toHaveLength(1);
  expect(worked).toHaveLength(1 + 3 * REMEMBERED);
  ask(`item ${3 * REMEMBERED - 1}`);
  expect(worked).toHaveLength(1 + 3 * REMEMBERED);
  expect(ask('item 0')).toBe('of item 0');
  expect(worked).toHaveLength(2 + 3 * REMEMBERED);
});
