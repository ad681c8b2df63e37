/** Receives each pair: the name and the value as spans of the line. */
export type PairVisitor = (nameStart: number, nameEnd: number, valueStart: number, valueEnd: number) => void;

/** Finds `name=value` pairs, separated by blanks or commas; a value may be in double quotes. Other words are passed. */
export function readPairs(bytes: Uint8Array, start: number, end: number, visit: PairVisitor): void {
  let at = start;
  while (at < end) {
    while (at < end && isSeparator(bytes[at] as number)) at++;
    const nameStart = at;
    while (at < end && bytes[at] !== 61 && !isSeparator(bytes[at] as number)) at++;
    if (at >= end || bytes[at] !== 61) continue;
    const nameEnd = at++;
    let valueStart = at;
    let valueEnd: number;
    if (bytes[at] === 34 && at < end) {
      valueStart = ++at;
      while (at < end && bytes[at] !== 34) at += bytes[at] === 92 ? 2 : 1;
      valueEnd = Math.min(at, end);
      at = valueEnd + 1;
    } else {
      while (at < end && !isSeparator(bytes[at] as number)) at++;
      valueEnd = at;
    }
    if (nameEnd > nameStart) visit(nameStart, nameEnd, valueStart, valueEnd);
  }
}

function isSeparator(byte: number): boolean {
  return byte === 32 || byte === 9 || byte === 44 || byte === 59;
}
