/** Longest frame; a longer one ends the connection, since its end cannot be trusted. */
export const maxFrameBytes = 1_000_000;

/** The messages that were complete, and the bytes of the one that is not. */
export interface Frames {
  readonly messages: readonly Uint8Array[];
  readonly rest: Uint8Array;
}

/**
 * Cuts a stream of syslog messages as RFC 6587 describes: a message that begins with a digit carries its length before
 * it (octet counting), any other ends at a line feed or a NUL. Returns undefined when a length is absurd.
 */
export function cutFrames(bytes: Uint8Array): Frames | undefined {
  const messages: Uint8Array[] = [];
  let at = 0;
  while (at < bytes.length) {
    const first = bytes[at] as number;
    if (first >= 49 && first <= 57) {
      const blank = bytes.indexOf(32, at);
      if (blank < 0) return bytes.length - at > 10 ? undefined : { messages, rest: bytes.subarray(at) };
      const length = Number(new TextDecoder().decode(bytes.subarray(at, blank)));
      if (!Number.isInteger(length) || length > maxFrameBytes) return undefined;
      if (blank + 1 + length > bytes.length) break;
      messages.push(bytes.subarray(blank + 1, blank + 1 + length));
      at = blank + 1 + length;
      continue;
    }
    const end = lineEnd(bytes, at);
    if (end < 0) {
      if (bytes.length - at > maxFrameBytes) return undefined;
      break;
    }
    const last = bytes[end - 1] === 13 ? end - 1 : end;
    if (last > at) messages.push(bytes.subarray(at, last));
    at = end + 1;
  }
  return { messages, rest: bytes.subarray(at) };
}

function lineEnd(bytes: Uint8Array, start: number): number {
  for (let at = start; at < bytes.length; at++) if (bytes[at] === 10 || bytes[at] === 0) return at;
  return -1;
}
