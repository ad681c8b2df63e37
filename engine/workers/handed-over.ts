import { move, transferableSymbol, valueSymbol } from 'piscina';

/**
 * An answer whose bytes leave this thread without being copied; they are gone here then. Bytes that share their memory with
 * others, as small buffers of Node.js do, are copied.
 */
export function handedOver<Answer>(answer: Answer, bytes: readonly Uint8Array[]): Answer {
  const buffers = new Set<ArrayBuffer>();
  for (const { buffer, byteLength } of bytes)
    if (buffer instanceof ArrayBuffer && buffer.byteLength === byteLength) buffers.add(buffer);
  const handed = { [transferableSymbol]: [...buffers], [valueSymbol]: answer };
  // The pool unwraps it on the other side: what arrives there is the answer.
  return move(handed as never) as Answer;
}
