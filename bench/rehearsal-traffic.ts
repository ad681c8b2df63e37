import type { EventBatch } from '../core/events/batch.ts';
import { day, hour } from '../core/events/time-units.ts';
import { seededRandom } from '../core/routing/route.ts';
import { batchOf } from '../core/testing/batch-of.ts';
import { zipf } from '../core/why/testing/traffic.ts';

/** One kind of lines of a source. */
interface LineKind {
  readonly source: string;
  readonly name: string;
  readonly perDay: number;
  /** By how much it grows in a week, as a factor. */
  readonly growth: number;
  /** How much more comes by day than by night, and on working days. */
  readonly daily: number;
  readonly weekly: number;
  readonly severity: string;
  readonly words: string;
}

/** The Monday on which the traffic begins. */
export const firstDay = Date.UTC(2026, 9, 5) / day;
/** All events a day, about. */
const perDay = 30_000;
export const trafficSources = ['booking', 'gates', 'harbour', 'payments', 'timetable'];
const kindsOfSource = 8;
export const regions = ['north', 'south', 'isles', 'mainland'];
export const severities = ['debug', 'info', 'info', 'info', 'warn', 'error'];
const words =
  'berth crew fare ferry hold issued lane late lookup opened paid pier queue refused route ticket vessel'.split(' ');

/** About normal: the sum of twelve even chances. */
function normal(random: () => number): number {
  return Array.from({ length: 12 }, random).reduce((sum, value) => sum + value, -6);
}

const random = seededRandom(20_261_005);

/** The kinds of lines, from frequent to rare. */
export const kinds: readonly LineKind[] = trafficSources.flatMap((source, at) =>
  Array.from({ length: kindsOfSource }, (_, rank) => ({
    source,
    name: `${source}-${rank}`,
    perDay: (perDay / trafficSources.length / 2.72 / (rank + 1)) * (0.6 + 0.2 * at),
    growth: 1 + 0.03 * normal(random),
    daily: 0.2 + 0.6 * random(),
    weekly: 0.4 * random(),
    severity: severities[Math.floor(random() * severities.length)] as string,
    words: Array.from({ length: 3 + Math.floor(random() * 9) }, () => words[Math.floor(random() * words.length)]).join(
      ' ',
    ),
  })),
);

/** The events of a day, a batch for each source, with time and arrival the same. The same day comes out the same. */
export function trafficOf(which: number): readonly EventBatch[] {
  const chance = seededRandom(7_919 * (which + 1));
  const ofDay = 1 + 0.015 * normal(chance);
  return trafficSources.map((source) => {
    const ofSource = ofDay * (1 + 0.015 * normal(chance));
    const events = kinds
      .filter((kind) => kind.source === source)
      .flatMap((kind) => linesOf(kind, which, ofSource * (1 + 0.03 * normal(chance)), chance));
    events.sort((a, b) => a.at - b.at);
    const batch = batchOf(
      events.map(({ line }) => line),
      source,
    );
    const time = Float64Array.from(events, ({ at }) => at);
    return { ...batch, time, received: time };
  });
}

interface Line {
  readonly at: number;
  readonly line: object;
}

function linesOf(kind: LineKind, which: number, factor: number, chance: () => number): readonly Line[] {
  const isWeekend = which % 7 > 4;
  const mean = kind.perDay * factor * kind.growth ** (which / 7) * (isWeekend ? 1 - kind.weekly : 1);
  const start = (firstDay + which) * day;
  const lines: Line[] = [];
  for (let part = 0; part < 24; part++) {
    const rate = (mean / 24) * (1 + kind.daily * Math.sin(((part - 9) / 24) * 2 * Math.PI));
    const count = Math.max(0, Math.round(rate + Math.sqrt(rate) * normal(chance)));
    for (let i = 0; i < count; i++) lines.push(lineOf(kind, start + part * hour + chance() * hour, part, chance));
  }
  return lines;
}

function lineOf(kind: LineKind, at: number, part: number, chance: () => number): Line {
  // More come from the south by night, and what takes long takes longest at noon.
  const south = 0.25 + 0.1 * Math.cos((part / 24) * 2 * Math.PI);
  const region = chance() < south ? 'south' : regions[Math.floor(chance() * regions.length)];
  const took = Math.round(20 * Math.exp(1.2 * normal(chance)) * (1 + 0.3 * Math.sin(((part - 6) / 24) * 2 * Math.PI)));
  const client = zipf(chance, 500);
  const severity = chance() < 0.03 ? 'error' : kind.severity;
  return {
    at,
    line: {
      ...{ time: new Date(at).toISOString(), level: severity, kind: kind.name, region, took },
      client: `c${client}`,
      message: `${kind.words} ${client} ${took}`,
    },
  };
}
