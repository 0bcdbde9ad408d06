import { parse } from 'cookie';
import type { Request, Response } from 'express';
import type { Context } from '../context.ts';
import type { SignedIn } from './signed-in.ts';

/** Tells another server how far into the log of the database somebody wrote. */
const WRITTEN = 'hard-ledger-written';

/**
 * Answers a question from the replica where it has what is needed, else from the primary; what the replica turns out not to be
 * able to answer is asked there again.
 */
export async function readFrom<T>(
  context: Context,
  { person, request, response }: { person: SignedIn; request: Request; response: Response },
  answer: (context: Context) => Promise<T>,
): Promise<T> {
  const { replica } = context;
  if (!replica) return answer(context);
  const db = await replica.ready(person.id, parse(request.headers.cookie ?? '')[WRITTEN] ?? null);
  if (!db) return answer(context);
  try {
    return await answer({ ...context, db });
  } catch (error) {
    if (response.headersSent || !replica.failed(error)) throw error;
    return answer(context);
  }
}

/** Somebody has changed something: it is read where they wrote it until the replica has it, by whatever server they ask. */
export async function noteWritten(
  { replica, secureCookies }: Context,
  { person, response }: { person: SignedIn; response: Response },
): Promise<void> {
  if (!replica) return;
  const at = await replica.wrote(person.id);
  if (at !== null && !response.headersSent)
    response.cookie(WRITTEN, at, { httpOnly: true, sameSite: 'strict', secure: secureCookies });
}
