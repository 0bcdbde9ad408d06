import type { RequestHandler } from 'express';
import { problem, statusOf } from '#contract/problems.ts';

const OF_THIS_MACHINE = ['localhost', '127.0.0.1', '[::1]'];

/**
 * Refuses whoever asks for another name than those of this server: a page elsewhere could have its own name point here, and
 * would then be asked as if it were ours.
 */
export function knownHost(names: readonly string[]): RequestHandler {
  const known = new Set([...OF_THIS_MACHINE, ...names]);
  return (request, response, next) => {
    const host = (request.headers.host ?? '').toLowerCase().replace(/:\d*$/, '').replace(/\.$/, '');
    if (known.has(host)) return next();
    const found = problem('host_unknown');
    response.status(statusOf(found.code)).json(found);
  };
}
