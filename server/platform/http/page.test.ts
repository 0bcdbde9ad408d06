import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import type { Server } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import supertest from 'supertest';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { type Workshop, openWorkshop } from '../tests/workshop.ts';
import { buildApp } from './app.ts';

let shop: Workshop;
let folder: string;
beforeAll(async () => {
  shop = await openWorkshop();
  folder = await mkdtemp(join(tmpdir(), 'page-'));
  await writeFile(join(folder, 'index.html'), '<meta name="style-nonce" content="%STYLE_NONCE%">');
});
afterAll(async () => {
  await rm(folder, { recursive: true });
  await shop.close();
});

it('no style is carried out in the page but our own and those that carry its mark, another in every answer', async () => {
  const app = buildApp({ ...shop.context, webFolder: folder }) as unknown as Server;
  const marks = [];
  for (const path of ['/', '/lists/1']) {
    const { headers, text } = await supertest(app).get(path);
    const allowed = /style-src ([^;]+)/.exec(headers['content-security-policy']!)![1]!;
    const mark = /content="([^"]+)"/.exec(text)![1]!;
    expect(allowed).toBe(`'self' 'nonce-${mark}'`);
    marks.push(mark);
  }
  expect(marks[0]).not.toBe(marks[1]);
});
