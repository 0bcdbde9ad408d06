import { randomBytes } from 'node:crypto';
import type { ServerResponse } from 'node:http';
import type { RequestHandler, Response } from 'express';
import helmet from 'helmet';

/** The mark of one answer, which the style elements of its page carry. */
export function styleNonce(response: Response): string {
  const locals = response.locals as { styleNonce?: string };
  return (locals.styleNonce ??= randomBytes(16).toString('base64'));
}

type StyleSource = string | ((_: unknown, response: ServerResponse) => string);

const helmetWith = (styles: readonly StyleSource[], secureCookies: boolean) =>
  helmet({
    contentSecurityPolicy: {
      directives: {
        'upgrade-insecure-requests': null,
        'worker-src': ["'self'"],
        'style-src': [...styles],
        'font-src': ["'self'"],
      },
    },
    strictTransportSecurity: secureCookies,
  });

const PERMISSIONS = 'camera=(), geolocation=(), microphone=(), payment=(), usb=()';

/** What browsers are told to keep to. */
export function securityHeaders(secureCookies: boolean): RequestHandler {
  // dialogs hold the page still by a style element of their own; it carries the page's mark
  const marked: StyleSource = (_, response) => `'nonce-${styleNonce(response as Response)}'`;
  const ofPages = helmetWith(["'self'", marked], secureCookies);
  const ofData = headersSetBy(helmetWith(["'self'"], secureCookies));
  return (request, response, next) => {
    response.setHeader('permissions-policy', PERMISSIONS);
    if (!request.path.startsWith('/api/')) return ofPages(request, response, next);
    for (const [name, value] of ofData) response.setHeader(name, value);
    next();
  };
}

/** Headers that are the same for every answer: what sets them is asked once. */
function headersSetBy(set: ReturnType<typeof helmet>): ReadonlyMap<string, string> {
  const headers = new Map<string, string>();
  const asked = {
    setHeader: (name: string, value: string) => headers.set(name, value),
    removeHeader: (name: string) => headers.delete(name),
  };
  set({} as Parameters<typeof set>[0], asked as unknown as ServerResponse, (error) => {
    if (error) throw error as Error;
  });
  return headers;
}
