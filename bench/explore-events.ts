import { once } from 'node:events';
import { createWriteStream } from 'node:fs';
import { week } from '../core/events/time-units.ts';

/** The sources of the events that Explore is measured on. */
export const exploreSources = ['gates', 'payments', 'timetable', 'berth-planner'] as const;

/** Events of a week. */
export const weekEvents = 5_000_000;

/** When the newest event happened: some minutes ago, at a full minute. */
export const newest = Math.floor(Date.now() / 60_000) * 60_000 - 600_000;
const step = week / weekEvents;
const regions = ['north', 'south', 'isles'];

/** Event `i` of a week, counted from its oldest one, as a JSON line; `more` is put into it as it stands. */
function line(i: number, weeksAgo: number, more = ''): string {
  const mixed = Math.imul(i ^ (i >>> 9), 0x9e3779b1) >>> 0;
  const other = Math.imul(mixed ^ (mixed >>> 15), 0x85ebca6b) >>> 0;
  const status = other % 40 === 0 ? 500 + (mixed % 4) : other % 13 === 0 ? 404 : 200;
  const happened = mixed % 100 === 7 ? 'refused' : 'handled';
  const level = status >= 500 ? 'error' : other % 30 === 1 ? 'warn' : 'info';
  return `{"time":"${timeOf(i, weeksAgo)}","level":"${level}","region":"${regions[other % 3]}","node":"pier-${other % 40}","message":"request ${i} ${happened} for passenger u${mixed % 50_000}","path":"/api/sailings/${mixed % 300}","status":${status},"took":${((mixed >>> 5) % 4_000) / 1_000},"bytes":${(other >>> 7) % 90_000},"user":"u${mixed % 50_000}","ticket":"T${other % 100_000}"${more}}`;
}

function timeOf(i: number, weeksAgo: number): string {
  return new Date(Math.floor(newest - week * (weeksAgo + 1) + i * step)).toISOString();
}

/** Events of each source that go into one delivery. */
const perDelivery = 20_000;

/** Deliveries of JSON lines of a week, one of each source at a time, from the oldest on. */
export function* deliveries(weeksAgo: number): Generator<{
  readonly source: string;
  readonly begins: string;
  readonly body: Buffer;
}> {
  const sources = exploreSources.length;
  for (let start = 0; start < weekEvents; start += perDelivery * sources) {
    for (const [place, source] of exploreSources.entries()) {
      const lines: string[] = [];
      for (let i = start + place; i < Math.min(weekEvents, start + perDelivery * sources); i += sources) {
        lines.push(line(i, weeksAgo));
      }
      yield { source, begins: timeOf(start + place, weeksAgo), body: Buffer.from(lines.join('\n')) };
    }
  }
}

/** Writes the events of the last week to a file of JSON lines, sorted by time, each with its source. */
export async function writeWeek(file: string): Promise<void> {
  const stream = createWriteStream(file);
  for (let start = 0; start < weekEvents; start += 50_000) {
    const lines = Array.from({ length: 50_000 }, (_, k) => {
      const i = start + k;
      return line(i, 0, `,"source":"${exploreSources[i % exploreSources.length]}"`);
    });
    if (!stream.write(`${lines.join('\n')}\n`)) await once(stream, 'drain');
  }
  stream.end();
  await once(stream, 'finish');
}
