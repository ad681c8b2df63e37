/** Lines of an object that are committed together, and bytes. */
const mostLines = 5_000;
const mostBytes = 1_000_000;

/** Longest line that is kept together; a longer one is more than a record may be, and comes in pieces. */
const longestLine = 1_000_000;

/** The lines of what comes piece by piece, without line ends and without blank ones, some thousand at a time. */
export async function* lineBatches(pieces: AsyncIterable<Uint8Array>): AsyncGenerator<readonly Uint8Array[]> {
  let batch: Uint8Array[] = [];
  let bytes = 0;
  let rest: Uint8Array = new Uint8Array(0);
  const add = (line: Uint8Array): boolean => {
    const end = line[line.length - 1] === 13 ? line.length - 1 : line.length;
    if (end > 0) batch.push(line.subarray(0, end));
    bytes += line.length;
    return batch.length >= mostLines || bytes >= mostBytes;
  };
  for await (const piece of pieces) {
    const all = rest.length === 0 ? piece : Buffer.concat([rest, piece]);
    let start = 0;
    for (let end = all.indexOf(10, start); end >= 0; end = all.indexOf(10, start)) {
      const full = add(all.subarray(start, end));
      start = end + 1;
      if (!full) continue;
      yield batch;
      batch = [];
      bytes = 0;
    }
    // A copy: what is left must not keep the whole piece in memory.
    rest = all.slice(start);
    if (rest.length < longestLine) continue;
    add(rest);
    rest = new Uint8Array(0);
  }
  add(rest);
  if (batch.length > 0) yield batch;
}
