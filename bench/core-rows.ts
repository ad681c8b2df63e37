import { spawnSync } from 'node:child_process';
import { deflateRawSync } from 'node:zlib';
import { gather } from '../core/events/select.ts';
import { encode, hashBytes } from '../core/events/text-table.ts';
import { type ReaderCache, readRecords } from '../core/formats/read.ts';
import { splitLines } from '../core/formats/records.ts';
import { compilePlan } from '../core/plan/compile.ts';
import type { PlanDocument } from '../core/plan/document.ts';
import { packSegment, storedBytes } from '../core/segments/pack.ts';
import { encodeSegment } from '../core/segments/segment.ts';
import { templateOf } from '../core/templates/template.ts';
import { eventsOfHour } from '../demo/generate.ts';
import { demoPlan } from '../demo/plan.ts';
import { demoSources } from '../demo/sources/index.ts';
import { happeningsOf } from '../demo/world.ts';
import { openFileFilter } from '../engine/search/filter-file.ts';
import { quickDeflate } from '../engine/workers/quick-deflate.ts';
import { chunks } from './events.ts';
import { compared, type Row } from './measure.ts';

const plan: PlanDocument = {
  plan: 1,
  pipelines: [
    {
      id: 'bench',
      title: 'Bench',
      when: '',
      steps: [
        { rename: { from: 'service', to: 'app' } },
        { convert: { field: 'took', to: 'duration' } },
        { convert: { field: 'bytes', to: 'size' } },
        { remove: { fields: ['region'] } },
        { extract: { from: 'path', template: '/api/{thing}/{number:int}' } },
      ],
    },
  ],
  tiers: [
    { id: 'errors', title: 'Errors', when: 'severity >= error', keep: '30d' },
    { id: 'rest', title: 'Rest', keep: '7d' },
  ],
};

/** How often the bytes are hashed by the peer of the second row. */
const passes = 10;

/**
 * (a) JSON lines → parse → five steps → route → encoded, compressed segment, against bare `JSON.parse`, and against hashing
 * the bytes ten times in JavaScript. How fast `JSON.parse`, which is machine code of the platform, is beside JavaScript
 * differs by a half between machines; the second row is of the same kind of code on both sides.
 */
export async function pipelineRows(): Promise<readonly Row[]> {
  const compiled = compilePlan(plan);
  const pieces = [...chunks()].slice(0, 16);
  const lines = pieces.map((piece) => piece.toString().split('\n'));
  const readers: ReaderCache = new Map();
  const now = Date.now();
  const work = (): void => {
    for (const piece of pieces) {
      const { batch } = readRecords('bench', splitLines(piece), 'auto', { received: now, backfill: false }, readers);
      const routed = compiled.run(batch, { now, random: Math.random });
      for (const { rows } of routed.tiers) {
        const { parts } = encodeSegment(gather('bench', [{ batch: routed.batch, rows }]), 'columns');
        for (const { data } of parts) quickDeflate(data);
      }
    }
  };
  const parse = (): void => {
    for (const piece of lines) for (const line of piece) JSON.parse(line);
  };
  const hash = (): void => {
    for (const piece of pieces) for (let pass = 0; pass < passes; pass++) hashBytes(piece, pass, piece.length);
  };
  return [
    await compared('a parse, five steps, route, encode / JSON.parse', 9, work, parse, 0.22),
    await compared('a parse, five steps, route, encode / ten passes over the bytes', 9, work, hash, 1.2),
  ];
}

const matches: readonly (readonly [string, string, RegExp])[] = [
  [
    'booking-web',
    '{client:ip} - {user?} [{at:clf}] "{method} {path} HTTP/{version}" {status:int} {bytes:bytes} "{referrer?}" "{agent}" {took:seconds}',
    /^([\d.a-f:]+) - (\S*) \[(\d\d\/\w{3}\/\d{4}:\d\d:\d\d:\d\d [+-]\d{4})\] "([^ ]+) (.+?) HTTP\/([^"]+)" (\d+) (\d+) "([^"]*)" "([^"]+)" ([\d.]+)$/,
  ],
  [
    'tides',
    '{gauge},{at:iso},{height:number},{wind:number},{water:number},{battery:int}',
    /^([^,]+),([\d\-T:.Z]+),(-?[\d.]+),(-?[\d.]+),(-?[\d.]+),(\d+)$/,
  ],
  [
    'berth-planner',
    'ts={at:iso} level={lvl} msg={message:quoted} host={host} {fields:rest}',
    /^ts=([\d\-T:.Z]+) level=([^ ]+) msg="((?:[^"\\]|\\.)*)" host=([^ ]+) (.*)$/,
  ],
  [
    'payments',
    '{at:iso} {lvl} pay[{worker:int}] {outcome} card={card} amount={amount:number}{currency} acquirer={acquirer} took={took:duration} ref={ref}',
    /^([\d\-T:.Z]+) ([^ ]+) pay\[(\d+)\] ([^ ]+) card=([^ ]+) amount=([\d.]+)([A-Z]+) acquirer=([^ ]+) took=([\d.]+[a-z]+) ref=(.+)$/,
  ],
  [
    'notices',
    'sent boarding notice for {ref} to passenger at {port:rest}',
    /^sent boarding notice for ([^ ]+) to passenger at (.+)$/,
  ],
  [
    'gates',
    '<{priority:int}>1 {at:iso} {host} gate-scanner {process} SCAN [{data}] ticket {ref} {result} in {took:number} ms',
    /^<(\d+)>1 ([\d\-T:.Z]+) ([^ ]+) gate-scanner ([^ ]+) SCAN \[([^\]]+)\] ticket ([^ ]+) ([^ ]+) in ([\d.]+) ms$/,
  ],
  [
    'pier-network',
    '<{priority:int}>{at:syslog} {host} netd[{process}]: {message:rest}',
    /^<(\d+)>(\w{3} [ \d]\d \d\d:\d\d:\d\d) ([^ ]+) netd\[([^\]]+)\]: (.+)$/,
  ],
];

/** (b) Template match against the equivalent regular expression. */
export async function templateRows(): Promise<readonly Row[]> {
  const start = Math.floor(Date.now() / 3_600_000) * 3_600_000;
  const rows: Row[] = [];
  for (const [name, text, pattern] of matches) {
    const source = demoSources.find((candidate) => candidate.name === name);
    if (!source) continue;
    const sample = eventsOfHour(source, start, happeningsOf(start), 'bench')
      .map(({ line }) => line)
      .filter((line) => pattern.test(line));
    const lines = Array.from({ length: 100_000 }, (_, i) => sample[i % sample.length] as string);
    const { bytes, starts, ends, count } = splitLines(encode(lines.join('\n')));
    const template = templateOf(text);
    const spans = new Int32Array(template.holes.length * 2);
    let fitted = 0;
    let matched = 0;
    const fit = (): void => {
      fitted = 0;
      for (let i = 0; i < count; i++)
        if (template.match(bytes, starts[i] as number, ends[i] as number, spans) < 0) fitted++;
    };
    const match = (): void => {
      matched = 0;
      for (const line of lines) if (pattern.exec(line)) matched++;
    };
    const row = await compared(`b template / regular expression, ${name}`, 21, fit, match, 1);
    if (fitted !== count || matched !== count)
      throw new Error(`${name}: ${fitted} and ${matched} of ${count} lines fit`);
    rows.push(row);
  }
  return rows;
}

/** (e) Stored bytes per byte received, over a day of the demo; as a ratio, how many times under the limit of 0.20. */
export function storedRow(): Row {
  const compiled = compilePlan(demoPlan);
  const day = Math.floor(Date.now() / 86_400_000) * 86_400_000 - 86_400_000;
  const happenings = happeningsOf(day + 86_400_000);
  let received = 0;
  let stored = 0;
  for (const source of demoSources.filter(({ transport }) => !transport.startsWith('otlp'))) {
    const lines = Array.from({ length: 24 }, (_, hour) =>
      eventsOfHour(source, day + hour * 3_600_000, happenings, 'bench'),
    ).flat();
    const bytes = encode(lines.map(({ line }) => line).join('\n'));
    const { batch } = readRecords(source.name, splitLines(bytes), 'auto', { received: day, backfill: true });
    const routed = compiled.run(batch, { now: day + 86_400_000, random: Math.random });
    received += bytes.length;
    for (const { rows } of routed.tiers) {
      stored += storedBytes(
        packSegment(gather(source.name, [{ batch: routed.batch, rows }]), {
          ...{ tier: 'rest', slot: day, revision: 1, layout: 'columns' },
          deflate: (data) => deflateRawSync(data, { level: 5 }),
        }),
      );
    }
  }
  return { id: 'e bytes received / bytes stored', ours: stored, peer: received, ratio: received / stored, floor: 5 };
}

/** (f) A condition over a file of JSON lines, against jq over the same file. */
export async function filterRow(file: string): Promise<Row> {
  const filter = openFileFilter('.build/engine');
  let found = 0;
  let expected = 0;
  const run = async (): Promise<void> => {
    found = (await filter.run(file, 'status >= 500 service = booking-api', false)).found;
  };
  // Both threads have to be warm.
  for (let i = 0; i < 5; i++) await run();
  const select = 'select(.status >= 500 and (.service | ascii_downcase) == "booking-api") | 1';
  const ask = (): void => {
    const { stdout } = spawnSync('jq', ['-c', select, file], { maxBuffer: 1 << 28, encoding: 'utf8' });
    expected = stdout.split('\n').length - 1;
  };
  const row = await compared('f condition over a file / jq', 3, run, ask, 30);
  await filter.close();
  if (found !== expected) throw new Error(`the condition found ${found}, jq ${expected}`);
  return row;
}
