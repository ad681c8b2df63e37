import { createHash, randomBytes } from 'node:crypto';

/** A new bearer token, and its SHA-256 (hexadecimal), which is all that is kept. */
export function newToken(): { readonly token: string; readonly hash: string } {
  const token = `otter_${randomBytes(20).toString('base64url')}`;
  return { token, hash: createHash('sha256').update(token).digest('hex') };
}
