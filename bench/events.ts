import { once } from 'node:events';
import { createWriteStream } from 'node:fs';

/** Events that the bench works on. */
export const eventCount = 1_000_000;

const services = ['booking-api', 'payments', 'berth-planner', 'gates', 'timetable'];
const regions = ['north', 'south', 'isles'];

/** How many happen in a second; live traffic brings far more. */
const slowly = 100;

/** When the first event happened; the last one of {@link slowly} is about three hours later. */
export const firstTime = Date.now() - 4 * 3_600_000;

/** JSON line `i`: about 200 bytes, the same in every run but for the time it begins at; so many of them happen in a second. */
export function line(i: number, perSecond = slowly): string {
  const mixed = Math.imul(i ^ (i >>> 7), 0x9e3779b1) >>> 0;
  const status = mixed % 40 === 0 ? 500 + (mixed % 4) : mixed % 13 === 0 ? 404 : 200;
  return `{"time":"${new Date(firstTime + (i * 1_000) / perSecond).toISOString()}","level":"${status >= 500 ? 'error' : 'info'}","service":"${services[mixed % 5]}","region":"${regions[(mixed >>> 3) % 3]}","message":"request ${i} handled for passenger u${mixed % 90_000}","path":"/api/sailings/${mixed % 300}","status":${status},"took":${((mixed >>> 5) % 4_000) / 1_000},"bytes":${(mixed >>> 7) % 90_000}}`;
}

/** All lines in pieces of some 25,000 lines. */
export function* chunks(perSecond = slowly): Generator<Buffer> {
  const size = 25_000;
  for (let start = 0; start < eventCount; start += size) {
    yield Buffer.from(Array.from({ length: size }, (_, i) => line(start + i, perSecond)).join('\n'));
  }
}

/** Writes all lines to a file. */
export async function writeLines(file: string): Promise<void> {
  const stream = createWriteStream(file);
  for (const chunk of chunks()) {
    if (!stream.write(Buffer.concat([chunk, Buffer.from('\n')]))) await once(stream, 'drain');
  }
  stream.end();
  await once(stream, 'finish');
}
