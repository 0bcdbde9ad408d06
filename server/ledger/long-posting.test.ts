import { expect, it, vi } from 'vitest';
import type { Posted } from '#contract/posting-requests.ts';
import type { Context } from '../platform/context.ts';
import type { PostingAsked } from './asked-posting.ts';
import { postLong } from './long-posting.ts';

it('a posting of many prices is carried out beside the thread that answers everybody, a small one on the spot', async () => {
  const posted: Posted = { postings: ['7'], request: null, lines: 1_000 };
  const post = vi.fn((_: PostingAsked) => Promise.resolve(posted));
  const database = new Proxy({} as Context['db'], {
    get: () => {
      throw new Error('asked on the spot');
    },
  });
  const context = { db: database, now: () => new Date(0), beside: { post } as unknown as Context['beside'] };
  const asked: PostingAsked = { today: '2026-03-09', of: 'request', agreed: { request: 1, by: 2 } };
  expect(await postLong(context, asked, 1_000)).toBe(posted);
  expect(post).toHaveBeenCalledWith(asked);
  await expect(postLong(context, asked, 999)).rejects.toThrow('asked on the spot');
  expect(post).toHaveBeenCalledTimes(1);
});
