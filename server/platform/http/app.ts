import { randomUUID } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import type { IncomingMessage, ServerResponse } from 'node:http';
import { join } from 'node:path';
import { setTimeout } from 'node:timers/promises';
import { sql } from 'drizzle-orm';
import express, { type Express, type Request, type Response } from 'express';
import { pinoHttp } from 'pino-http';
import { routes } from '../../routes.ts';
import { sessionRoutes } from '../../people/session-routes.ts';
import type { Context } from '../context.ts';
import { mayReadMetrics } from '../metrics.ts';
import { refused } from '../refused.ts';
import { answerErrors } from './errors.ts';
import { securityHeaders, styleNonce } from './headers.ts';
import { knownHost } from './known-host.ts';
import { mount } from './route.ts';
import { checkToken, identify, sessions } from './session.ts';

/** How long the health check waits for the database, in milliseconds. */
const HEALTH_PATIENCE = 2_000;

/** What is told of an answer, with who asked from where: known when it ends, and said once. */
const whoAsked = (request: IncomingMessage, response: ServerResponse, said: object) => ({
  person: (response as Response).locals['person']?.id ?? null,
  address: (request as Request).ip,
  ...said,
});

/** Builds the application; it listens nowhere, so that tests can call it in process. */
export function buildApp(context: Context): Express {
  const app = express();
  app.disable('x-powered-by');
  // answers are not kept by who asks (no-store): a mark of what they hold would be worked out for nobody
  app.disable('etag');
  app.set('trust proxy', context.trustProxy);
  app.use(securityHeaders(context.secureCookies));
  app.use(
    pinoHttp({
      logger: context.log,
      genReqId: (_, response) => {
        const id = randomUUID();
        response.setHeader('x-request-id', id);
        return id;
      },
      // what went well is told only when asked for; a refusal is kept
      customLogLevel: (_, { statusCode }, error) =>
        error || statusCode >= 500 ? 'error' : statusCode === 403 || statusCode === 429 ? 'warn' : 'debug',
      customSuccessObject: whoAsked,
      customErrorObject: (request, response, _, said) => whoAsked(request, response, said),
      autoLogging: { ignore: (r) => r.url?.startsWith('/assets') ?? false },
      serializers: {
        req: (r: { id: unknown; method: string; url: string }) => ({
          id: r.id,
          method: r.method,
          url: r.url.split('?')[0],
        }),
        res: (r: { statusCode: number }) => ({ status: r.statusCode }),
      },
    }),
  );

  app.use(knownHost(context.hostNames));
  app.use(context.metrics.observe);
  app.get('/metrics', async (request, response) => {
    if (!mayReadMetrics(request, context.metricsToken)) return void response.status(404).end();
    response
      .set('cache-control', 'no-store')
      .type(context.metrics.contentType)
      .send(await context.metrics.text());
  });

  app.get('/healthz', async (_, response) => {
    const asked = context.db.execute(sql`select 1`).then(
      () => true,
      () => false,
    );
    // a database that hangs is as far away as one that is gone
    const answers = await Promise.race([asked, setTimeout(HEALTH_PATIENCE, false, { ref: false })]);
    response.status(answers ? 200 : 503).json({ database: answers ? 'answers' : 'does not answer' });
  });

  const api = express.Router();
  api.use(sessions(context), identify(context), checkToken(context));
  api.use((_, response, next) => {
    response.set('cache-control', 'no-store');
    next();
  });
  sessionRoutes(api, context);
  mount(api, context, routes);
  api.use(() => {
    throw refused('no_such_file');
  });
  api.use(answerErrors(context));
  app.use('/api', api);

  const { webFolder } = context;
  if (webFolder) {
    app.use(
      '/assets',
      express.static(join(webFolder, 'assets'), { immutable: true, maxAge: '1y', fallthrough: false }),
    );
    app.use(express.static(webFolder, { index: false }));
    app.get('/{*rest}', async (_, response) => {
      const page = await readFile(join(webFolder, 'index.html'), 'utf8');
      response
        .set('cache-control', 'no-cache')
        .type('html')
        .send(page.replace('%STYLE_NONCE%', styleNonce(response)));
    });
  }
  app.use(answerErrors(context));
  return app;
}
