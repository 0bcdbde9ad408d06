import { Agent, type IncomingMessage, type Server, get } from 'node:http';
import type { AddressInfo } from 'node:net';
import express from 'express';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { type Workshop, openWorkshop } from '../tests/workshop.ts';
import { buildApp } from './app.ts';
import { closing, serverOf } from './server.ts';

let shop: Workshop;
beforeAll(async () => {
  shop = await openWorkshop();
});
afterAll(() => shop.close());

async function listening(server: Server): Promise<string> {
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
  return `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
}

describe('the server', () => {
  test('leaves a request and its answer the objects they were made as: changed ones would fill the memory', async () => {
    const server = serverOf(buildApp(shop.context));
    const seen: boolean[] = [];
    server.prependListener('request', (request, response) => {
      const made = [request, response].map((one) => [one, Object.getPrototypeOf(one) as unknown] as const);
      response.on('finish', () => seen.push(...made.map(([one, of]) => Object.getPrototypeOf(one) === of)));
    });
    try {
      const address = await listening(server);
      for (const path of ['/api/session', '/api/items', '/healthz']) await (await fetch(address + path)).text();
      expect(seen).toEqual(Array.from({ length: 6 }, () => true));
    } finally {
      await closing(server);
    }
  });

  test('that is stopped answers what is under way, and keeps no connection after it', { timeout: 10_000 }, async () => {
    const app = express();
    let release: () => void;
    let arrived: () => void;
    const here = new Promise<void>((done) => (arrived = done));
    app.get('/slow', (_, response) => {
      release = () => response.json({ answered: true });
      arrived();
    });
    const server = serverOf(app);
    const address = await listening(server);
    const agent = new Agent({ keepAlive: true });
    try {
      const answer = new Promise<IncomingMessage>((done) => get(`${address}/slow`, { agent }, done));
      await here;
      const closed = closing(server);
      release!();
      const { statusCode } = (await answer).resume();
      expect(statusCode).toBe(200);
      await closed;
    } finally {
      agent.destroy();
    }
  });
});
