import {
  appendFileSync,
  copyFileSync,
  mkdirSync,
  readFileSync,
  renameSync,
  truncateSync,
  writeFileSync,
} from 'node:fs';
import { createServer } from 'node:http';
import { join } from 'node:path';
import { connect } from 'node:tls';
import { gzipSync, inflateRawSync } from 'node:zlib';
import { afterAll, beforeAll, describe, expect, inject, test } from 'vitest';
import type { RehearsalAnswer } from '#core/rehearsal/rehearsal-answer.ts';
import { send, startEngine, type TestEngine } from '../testing/engine.ts';
import { freePort } from '../testing/ports.ts';

let engine: TestEngine;
let logs: string;

beforeAll(async () => {
  engine = await startEngine(inject('mariadb'));
  logs = join(engine.folder, 'logs');
  mkdirSync(logs);
});

afterAll(() => engine.stop());

const pad = (n: number): string => `line ${String(n).padStart(6, '0')} of the harbour log`;

/** How often each numbered line is stored, once as many as wanted are there. */
async function counted(source: string, wanted: number): Promise<{ total: number; distinct: number }> {
  const summary = 'count() as n, distinct(n) as d';
  await engine.found({ condition: `source = ${source}`, limit: 0 }, wanted);
  const answer = await engine.search({ condition: `source = ${source}`, summary, limit: 0 });
  return { total: Number(answer.summary?.rows[0]?.[0] ?? 0), distinct: Number(answer.summary?.rows[0]?.[1] ?? 0) };
}

const plan = {
  plan: 1 as const,
  pipelines: [
    {
      id: 'n',
      title: 'Numbers',
      when: 'source in (files, packed)',
      steps: [{ extract: { from: 'body', template: 'line {n} of the harbour log' } }],
    },
  ],
  tiers: [{ id: 'rest', title: 'Rest', keep: '7d' }],
};

/** Rehearses a draft on what a source holds from a time on. */
async function rehearsedAgain(source: string, from: number, draft: object) {
  await engine.saveDraft(draft);
  const time = from === 0 ? '' : new Date(from).toISOString();
  return await engine.ask<RehearsalAnswer>('rehearseAgain', { name: source, from: time });
}

/** The plan with an exclusion of some events. */
const excluding = (when: string) => ({
  ...plan,
  tiers: [{ ...plan.tiers[0], exclusions: [{ id: 'out', title: 'Out', when, keep: 'none' }] }],
});

describe('followed files', () => {
  test('with renaming, copy-truncating and packing, and the engine killed in between, no line is lost or doubled', async () => {
    await engine.publish(plan);
    await engine.source('files', { kind: 'files', format: 'text', settings: { globs: [join(logs, 'harbour.log*')] } });
    const file = join(logs, 'harbour.log');
    let next = 0;
    const write = (count: number): void => {
      appendFileSync(file, Array.from({ length: count }, () => `${pad(next++)}\n`).join(''));
    };
    const kill = async (): Promise<void> => {
      await engine.kill();
      await engine.restart();
    };
    for (let round = 0; round < 4; round++) {
      write(4_000);
      await engine.found({ condition: 'source = files', limit: 0 }, next - 3_000);
      renameSync(file, join(logs, `harbour.log.${round}`));
      write(3_000);
      await kill();
      write(500);
      await engine.found({ condition: 'source = files', limit: 0 }, next - 400);
      // Rotation by copying: what is written between the last read and the copy is in the copy alone.
      write(100);
      copyFileSync(file, join(logs, `harbour.log.copy${round}`));
      truncateSync(file);
      write(700);
      if (round === 1) {
        writeFileSync(join(logs, 'harbour.log.0.gz'), gzipSync(readFileSync(join(logs, 'harbour.log.0'))));
        renameSync(join(logs, 'harbour.log.0'), join(engine.folder, 'gone'));
        await kill();
      }
    }
    const { total, distinct } = await counted('files', next);
    expect(total).toBe(next);
    expect(Math.abs(distinct - next) / next).toBeLessThan(0.05);
    const doubled = await engine.search({
      condition: 'source = files',
      summary: 'count() as c by n having c > 1',
      limit: 0,
    });
    expect(doubled.summary?.rows).toEqual([]);
  });

  test('lines are joined by a rule, also across reads', async () => {
    const file = join(logs, 'trace.log');
    await engine.source('traces', {
      kind: 'files',
      format: 'text',
      settings: { globs: [join(logs, 'trace.log')], join: { continues: '^\\s' } },
    });
    appendFileSync(file, 'Error: berth is taken\n');
    appendFileSync(file, '  at assign (planner)\n  at run (planner)\nplain line\n');
    const { events } = await engine.found({ condition: 'source = traces' }, 2);
    expect(events.map((event) => event.body).sort()).toEqual([
      'Error: berth is taken\n  at assign (planner)\n  at run (planner)',
      'plain line',
    ]);
  });

  test('a rewind reads all again and doubles nothing', async () => {
    const before = await counted('files', 1);
    const { removed } = await engine.ask<{ removed: number }>('rewind', { name: 'files', from: '' });
    expect(removed).toBe(before.total);
    // The packed file has replaced one that is gone: what the others hold is read again.
    const after = await counted('files', before.total);
    expect(after.total).toBe(before.total);
  });

  test('read again into a rehearsal, they are compared under both plans, and nothing is stored', async () => {
    const before = await counted('files', 1);
    const draft = excluding('n >= 000100 n < 000200');
    const result = await rehearsedAgain('files', 0, draft);
    expect(result).toMatchObject({ taped: before.total, parsed: { live: 1, draft: 1 } });
    // Nothing is left to chance: no record stands for others.
    expect(result.kept.bands).toEqual({ draft: 0, change: 0 });
    expect(result.kept.live.events - result.kept.draft.events).toBe(100);
    expect(await rehearsedAgain('files', Date.now() + 60_000, draft)).toMatchObject({ arrived: { events: 0 } });
    expect(await counted('files', before.total)).toEqual(before);
  });
});

describe('picked-up objects', () => {
  test('are read once each, packed or not, with labels from their names, though the engine is killed', async () => {
    const objects = new Map<string, Buffer>();
    const server = createServer((request, response) => {
      const name = decodeURIComponent((request.url ?? '').replace(/^\/list\/?/, ''));
      const body = objects.get(name);
      if (name === '') {
        const list = [...objects].map(([each, content]) => ({ name: each, version: '1', size: content.length }));
        response.end(JSON.stringify({ objects: list }));
      } else if (body) response.end(body);
      else {
        response.statusCode = 404;
        response.end();
      }
    });
    const port = await freePort();
    await new Promise<void>((resolve) => server.listen(port, '127.0.0.1', resolve));
    await engine.source('packed', {
      kind: 'objects',
      settings: { url: `http://127.0.0.1:${port}/list/`, path: '{pier}/{kind}-{}.{}' },
    });
    let next = 0;
    const text = (count: number): Buffer =>
      Buffer.from(Array.from({ length: count }, () => `{"n":"${next++}"}\n`).join(''));
    objects.set('pier-1/scan-1.ndjson', text(12_000));
    objects.set('pier-2/scan-2.ndjson.gz', gzipSync(text(9_000)));
    await engine.found({ condition: 'source = packed', limit: 0 }, 5_000);
    await engine.kill();
    await engine.restart();
    const [ebb, flood] = [Date.now() - 7_200_000, Date.now() - 3_600_000];
    const rows = [`${new Date(ebb).toISOString()},1.5,"a, b"`, `${new Date(flood).toISOString()},2,`];
    objects.set('pier-2/tide-3.csv', Buffer.from(`at,height,note\n${rows.join('\n')}\n`));
    objects.set('pier-3/broken.gz', Buffer.from([0x1f, 0x8b, 1, 2, 3]));
    const total = next + 2;
    await engine.found({ condition: 'source = packed', limit: 0 }, total);
    await engine.kill();
    await engine.restart();
    expect((await counted('packed', total)).total).toBe(total);
    const { events } = await engine.search({ condition: 'source = packed kind = tide height < 2' });
    expect(events[0]).toMatchObject({
      time: ebb,
      attributes: { pier: 'pier-2', kind: 'tide', height: 1.5, note: 'a, b', object: 'pier-2/tide-3.csv' },
    });
    const half = excluding('pier = pier-1');
    expect(await rehearsedAgain('packed', 0, half)).toMatchObject({
      kept: { live: { events: total }, draft: { events: total - 12_000 } },
    });
    expect(await rehearsedAgain('packed', flood, half)).toMatchObject({
      kept: { live: { events: total - 1 }, draft: { events: total - 12_001 } },
    });
    expect((await counted('packed', total)).total).toBe(total);
    server.close();
  });
});

test('syslog over TLS', async () => {
  await engine.source('tls', { kind: 'syslog', accepts: 'app = wheel' });
  const ca = readFileSync(join(engine.folder, 'syslog-cert.pem'));
  const message = `<14>1 ${new Date().toISOString()} kittiwake wheel - - - secret course`;
  await new Promise<void>((resolve, reject) => {
    const socket = connect({ host: '127.0.0.1', port: engine.tlsPort, ca, checkServerIdentity: () => undefined }, () =>
      socket.end(`${message.length} ${message}`, resolve),
    );
    socket.on('error', reject);
  });
  const { events } = await engine.found({ condition: '"secret course"' }, 1);
  expect(events[0]).toMatchObject({ source: 'tls', emitter: 'kittiwake' });
});

test('masked values are nowhere: tape, segments, rejects, tables and files', async () => {
  const card = '4000001234567899';
  const mail = 'mara.lind@post.skerry.example';
  const token = 'tok_5f1d7c2b9a3e4d60';
  const secrets = [card, mail, token];
  const rules = [
    { find: 'card', with: 'last-four' },
    { find: 'email', with: 'hash' },
    { after: 'key=', with: 'remove' },
  ] as const;
  await engine.publish({
    ...plan,
    pipelines: [
      {
        id: 'r',
        title: 'R',
        when: 'source = till',
        steps: [{ extract: { from: 'body', template: 'paid {n:int}' }, 'on-failure': 'reject' }],
      },
    ],
  });
  for (const [name, kind] of [
    ['till', 'http'],
    ['otlp-till', 'otlp'],
    ['log-till', 'syslog'],
  ] as const)
    await engine.source(name, {
      kind,
      settings: { masks: rules },
      ...(kind === 'syslog' && { accepts: 'app = till' }),
    });
  await send(
    engine,
    'till',
    `{"msg":"by ${card} for ${mail}","card":${card},"note":"key=${token} end"}\nplain ${card} key=${token}\n{"broken ${mail}`,
  );
  const record = {
    body: { stringValue: `by ${mail}` },
    attributes: [
      { key: 'card', value: { intValue: card } },
      { key: 'k', value: { stringValue: `key=${token}` } },
    ],
  };
  await fetch(`${engine.intake}/v1/logs`, {
    method: 'POST',
    headers: { authorization: 'Bearer token-otlp-till', 'content-type': 'application/json' },
    body: JSON.stringify({ resourceLogs: [{ scopeLogs: [{ logRecords: [record] }] }] }),
  });
  await engine.found({ condition: 'source in (till, otlp-till)' }, 3);
  const stored = await engine.search({ condition: 'source in (till, otlp-till)' });
  expect(JSON.stringify(stored)).toContain('•••7899');
  expect(stored.total).toBe(4);
  const { events } = await engine.search({ condition: 'source = till', tiers: ['rejects'] });
  // Those that the step rejected, and the one that could not be read.
  expect(events.length).toBe(3);
  const tape = JSON.stringify(await engine.ask('tape', { source: 'till' }));
  const tapeOtlp = JSON.stringify(await engine.ask('tape', { source: 'otlp-till' }));
  const health = JSON.stringify(await engine.ask('health'));
  for (const text of [JSON.stringify(stored), JSON.stringify(events), tape, tapeOtlp, health]) {
    expect(text.length).toBeGreaterThan(50);
    for (const secret of secrets) expect(text).not.toContain(secret);
  }
  const dumped = await everythingStored(engine);
  for (const secret of secrets) expect(dumped.includes(secret)).toBe(false);
});

function unpacked(bytes: Uint8Array): string {
  try {
    return inflateRawSync(bytes).toString('latin1');
  } catch {
    // Headers are not packed.
    return '';
  }
}

/** All text and bytes of all tables, packed parts unpacked. */
async function everythingStored({ database }: TestEngine): Promise<string> {
  const { sql } = await import('drizzle-orm');
  const pieces: string[] = [];
  const [tables] = await database.db.execute(sql`show tables`);
  for (const row of tables as unknown as Record<string, string>[]) {
    const [rows] = await database.db.execute(sql.raw(`select * from \`${Object.values(row)[0]}\``));
    for (const each of rows as unknown as Record<string, unknown>[]) {
      for (const value of Object.values(each)) {
        if (!(value instanceof Uint8Array)) pieces.push(String(value));
        else pieces.push(Buffer.from(value).toString('latin1'), unpacked(value));
      }
    }
  }
  return pieces.join('\n');
}
