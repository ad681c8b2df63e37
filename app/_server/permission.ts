import { createHash } from 'node:crypto';
import type { Permission } from '#core/operations/operation.ts';
import { whoseSwitchToken } from './engine.ts';
import { problem } from './problem.ts';

/** Who asks: a program with a token, by the token's title; or whoever gets here. */
export interface Asker {
  readonly who: string;
}

/**
 * Whether whoever sent a request may do something of this kind; an answer that says why, where they may not. There are no
 * accounts: without a token everyone who gets here may do all; with a token for switching only that may be done.
 */
export async function askerOf(request: Request, permission: Permission): Promise<Asker | Response> {
  const token = /^Bearer\s+(.*)$/i.exec(request.headers.get('authorization') ?? '')?.[1];
  if (token === undefined) return { who: '' };
  const title = await whoseSwitchToken(createHash('sha256').update(token).digest('hex'));
  if (title instanceof Response) return title;
  if (title === null) return problem(401, 'The token is not known', 'It may have been ended. Make one in Routing.');
  if (permission !== 'switch')
    return problem(403, 'The token may not do this', 'It may switch postures and exclusions, and nothing else.');
  return { who: title };
}
