/** Where each record is in some received bytes: record `i` is `bytes[starts[i]..ends[i])`. */
export interface Records {
  readonly bytes: Uint8Array;
  readonly starts: Uint32Array;
  readonly ends: Uint32Array;
  readonly count: number;
  /** Line number of each record in the request, from 1; undefined when records are numbered one by one. */
  readonly lines?: Uint32Array;
}

/** Longest record that is taken, in bytes. */
export const maxRecordBytes = 256 * 1024;

/** Splits at line feeds; carriage returns before them and lines that are blank are left out. */
export function splitLines(bytes: Uint8Array): Records {
  let capacity = 1024;
  let starts = new Uint32Array(capacity);
  let ends = new Uint32Array(capacity);
  let lines = new Uint32Array(capacity);
  let count = 0;
  let line = 0;
  let start = 0;
  while (start < bytes.length) {
    let end = bytes.indexOf(10, start);
    if (end < 0) end = bytes.length;
    line++;
    let last = end;
    while (last > start && (bytes[last - 1] as number) <= 32) last--;
    if (last > start) {
      if (count === capacity) {
        capacity *= 4;
        starts = grown(starts, capacity);
        ends = grown(ends, capacity);
        lines = grown(lines, capacity);
      }
      starts[count] = start;
      ends[count] = last;
      lines[count++] = line;
    }
    start = end + 1;
  }
  return { bytes, starts, ends, count, lines };
}

function grown(from: Uint32Array, capacity: number): Uint32Array<ArrayBuffer> {
  const to = new Uint32Array(capacity);
  to.set(from);
  return to;
}

/** The items of a JSON array as records. Where the array is not closed, its last item reaches to the end. */
export function splitArray(bytes: Uint8Array): Records {
  const starts: number[] = [];
  const ends: number[] = [];
  let depth = 0;
  let start = -1;
  for (let at = 0; at < bytes.length; at++) {
    const byte = bytes[at] as number;
    if (byte <= 32) continue;
    if (depth === 1 && start < 0 && byte !== 44 && byte !== 93) start = at;
    if (byte === 34) at = stringEnd(bytes, at);
    else if (byte === 91 || byte === 123) depth++;
    else if (byte === 93 || byte === 125) depth--;
    if (start >= 0 && ((byte === 44 && depth === 1) || depth === 0)) {
      starts.push(start);
      ends.push(at);
      start = -1;
    }
    if (depth === 0) break;
  }
  if (start >= 0) {
    starts.push(start);
    ends.push(bytes.length);
  }
  return { bytes, starts: Uint32Array.from(starts), ends: Uint32Array.from(ends), count: starts.length };
}

function stringEnd(bytes: Uint8Array, start: number): number {
  let at = start + 1;
  while (at < bytes.length && bytes[at] !== 34) at += bytes[at] === 92 ? 2 : 1;
  return at;
}

/** Several separate messages (datagrams, frames) as records. */
export function joinMessages(messages: readonly Uint8Array[]): Records {
  const starts = new Uint32Array(messages.length);
  const ends = new Uint32Array(messages.length);
  let size = 0;
  for (const message of messages) size += message.length;
  const bytes = new Uint8Array(size);
  let at = 0;
  messages.forEach((message, i) => {
    bytes.set(message, at);
    starts[i] = at;
    at += message.length;
    ends[i] = at;
  });
  return { bytes, starts, ends, count: messages.length };
}

/** Whether the bytes begin as a JSON array of objects does: `[`, blanks, then `{` or `]`. */
export function beginsArray(bytes: Uint8Array): boolean {
  let at = 0;
  while (at < bytes.length && (bytes[at] as number) <= 32) at++;
  if (bytes[at] !== 91) return false;
  at++;
  while (at < bytes.length && (bytes[at] as number) <= 32) at++;
  return bytes[at] === 123 || bytes[at] === 93;
}
