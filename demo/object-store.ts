import { createReadStream, existsSync, mkdirSync, readdirSync, statSync, writeFileSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import { join, normalize, sep } from 'node:path';
import { gzipSync } from 'node:zlib';
import { hour } from '#core/events/time-units.ts';
import { chanceOf } from './chance.ts';
import { ports } from './world.ts';

/** Hours of weather that are there from the beginning. */
const hoursBefore = 36;

/** The weather of an hour at all ports, as CSV: an observation every five minutes. */
function weatherOf(start: number): string {
  const chance = chanceOf(`weather ${start}`);
  const rows = ports.flatMap((port) =>
    Array.from({ length: 12 }, (_, i) => {
      const at = new Date(start + i * 300_000).toISOString();
      return `${at},"${port}",${(4 + 12 * chance.next()).toFixed(1)},${(985 + 40 * chance.next()).toFixed(0)},${chance.pick(['clear', 'rain', 'fog', '"rain, heavy"'])}`;
    }),
  );
  return `time,station,wind,pressure,sky\n${rows.join('\n')}\n`;
}

/** Puts the weather of all hours that are over up to `now` into the store's folder, an object an hour. */
export function writeWeather(folder: string, now: number): void {
  const last = Math.floor(now / hour) * hour - hour;
  for (let start = last - hoursBefore * hour; start <= last; start += hour) {
    const day = new Date(start).toISOString().slice(0, 10);
    const file = join(folder, 'weather', day, `isles-${new Date(start).toISOString().slice(11, 13)}.csv.gz`);
    if (existsSync(file)) continue;
    mkdirSync(join(folder, 'weather', day), { recursive: true });
    writeFileSync(file, gzipSync(weatherOf(start)));
  }
}

/**
 * A small stand-in for an object store: `GET /objects/` lists all objects of a folder as JSON, `GET /objects/{name}` gives
 * one. Loopback only.
 */
export function serveObjects(folder: string, port: number): Server {
  mkdirSync(folder, { recursive: true });
  const server = createServer((request, response) => {
    const name = decodeURIComponent((request.url ?? '').replace(/^\/objects\/?/, ''));
    if (name === '') {
      response.setHeader('content-type', 'application/json');
      response.end(JSON.stringify({ objects: listObjects(folder) }));
      return;
    }
    const file = normalize(join(folder, name));
    if (!file.startsWith(join(folder, sep)) || !existsSync(file)) {
      response.statusCode = 404;
      response.end();
      return;
    }
    createReadStream(file).pipe(response);
  });
  server.listen(port, '127.0.0.1');
  return server;
}

function listObjects(folder: string): readonly { name: string; version: string; size: number }[] {
  return readdirSync(folder, { recursive: true, encoding: 'utf8' }).flatMap((name) => {
    const facts = statSync(join(folder, name));
    return facts.isFile() ? [{ name, version: String(Math.floor(facts.mtimeMs)), size: facts.size }] : [];
  });
}
