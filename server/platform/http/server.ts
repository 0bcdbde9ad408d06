import { createServer, IncomingMessage, type Server, ServerResponse } from 'node:http';
import type { Express } from 'express';

/** How long a connection on which nothing is asked stays: longer than proxies keep theirs, so that none asks on one that closes. In milliseconds. */
const KEPT_OPEN_MS = 75_000;

/**
 * A server whose requests and answers are made as the application wants them. Express would else give each of them another
 * prototype when it comes in; an object that was changed so is no longer collected while it is young, and with it all that it
 * holds: some 35 kB a request stayed until all of the memory was looked through.
 */
export function serverOf(app: Express): Server {
  class AppRequest extends IncomingMessage {}
  class AppResponse extends ServerResponse {}
  Object.setPrototypeOf(AppRequest.prototype, app.request);
  Object.setPrototypeOf(AppResponse.prototype, app.response);
  app.request = AppRequest.prototype as Express['request'];
  app.response = AppResponse.prototype as Express['response'];
  const server = createServer({ IncomingMessage: AppRequest, ServerResponse: AppResponse }, app);
  server.keepAliveTimeout = KEPT_OPEN_MS;
  return server;
}

/** Takes no more; what is under way is answered, and then all is closed: connections that only wait at once, others with their answer. */
export function closing(server: Server): Promise<void> {
  const closed = new Promise<void>((done) => server.close(() => done()));
  server.closeIdleConnections();
  server.keepAliveTimeout = 1;
  return closed;
}
