import { IncomingMessage } from 'node:http';
import type { AddressInfo } from 'node:net';
import express from 'express';
import { expect, test } from 'vitest';
import { serverOf } from './server.ts';

test('A request and its answer stay the objects they were made as: changed ones would fill the memory', async () => {
  const app = express();
  const changed: unknown[] = [];
  const seen = { before: new Map<object, object | null>(), ended: 0 };
  app.get('/here', (request, response) => {
    for (const [one, prototype] of seen.before)
      if (Object.getPrototypeOf(one) !== prototype) changed.push(one.constructor.name);
    seen.ended += Number(request instanceof IncomingMessage && seen.before.has(request) && seen.before.has(response));
    response.json({ asked: request.query['a'] });
  });
  const server = serverOf(app);
  server.prependListener('request', (request, response) => {
    for (const one of [request, response]) seen.before.set(one, Object.getPrototypeOf(one) as object | null);
  });
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
  try {
    const { port } = server.address() as AddressInfo;
    const answer = await fetch(`http://127.0.0.1:${port}/here?a=7`);
    expect(await answer.json()).toEqual({ asked: '7' });
    expect(seen.ended).toBe(1);
    expect(changed).toEqual([]);
  } finally {
    server.close();
  }
});
