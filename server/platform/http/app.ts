import { join } from 'node:path';
import { sql } from 'drizzle-orm';
import express, { type Express } from 'express';
import helmet from 'helmet';
import { pinoHttp } from 'pino-http';
import { routes } from '../../routes.ts';
import { sessionRoutes } from '../../people/session-routes.ts';
import type { Context } from '../context.ts';
import { refused } from '../refused.ts';
import { answerErrors } from './errors.ts';
import { mount } from './route.ts';
import { checkToken, identify, sessions } from './session.ts';

/** Builds the application; it listens nowhere, so that tests can call it in process. */
export function buildApp(context: Context): Express {
  const app = express();
  app.disable('x-powered-by');
  app.set('trust proxy', 'loopback');
  app.use(
    helmet({
      contentSecurityPolicy: { directives: { 'upgrade-insecure-requests': null, 'worker-src': ["'self'"] } },
      strictTransportSecurity: context.secureCookies,
    }),
  );
  app.use(
    pinoHttp({
      logger: context.log,
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

  app.get('/healthz', async (_, response) => {
    try {
      await context.db.execute(sql`select 1`);
      response.json({ database: 'answers' });
    } catch {
      response.status(503).json({ database: 'does not answer' });
    }
  });

  const api = express();
  api.disable('x-powered-by');
  api.use(sessions(context), identify(context), checkToken);
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
    app.get('/{*rest}', (_, response) =>
      response.set('cache-control', 'no-cache').sendFile(join(webFolder, 'index.html')),
    );
  }
  app.use(answerErrors(context));
  return app;
}
