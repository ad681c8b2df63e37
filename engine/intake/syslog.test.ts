import pino from 'pino';
import { afterEach, beforeEach, expect, inject, test } from 'vitest';
import type { Database } from '#store/database.ts';
import { saveSource } from '#store/sources/sources.ts';
import { emptyDatabase } from '#store/testing/database.ts';
import type { Delivery } from '../deliveries/delivery.ts';
import { SourceDirectory } from '../sources/source-directory.ts';
import { IntakeQueue, maxQueuedBytes } from './queue.ts';
import { SyslogGatherer } from './syslog.ts';
import { TapeRate } from './tape-rate.ts';

let database: Database;
let queue: IntakeQueue;
let gatherer: SyslogGatherer;
let lost: number;

beforeEach(async () => {
  database = await emptyDatabase(inject('mariadb'));
  const common = { kind: 'syslog', owner: '', labels: {}, createdAt: 1 };
  await saveSource(database.db, { ...common, name: 'gates', format: 'rfc5424', accepts: 'app = gate', settings: {} });
  const settings = { masks: [{ find: 'ip', with: 'hash' }] } as const;
  await saveSource(database.db, { ...common, name: 'link', format: 'auto', accepts: 'app = link', settings });
  await saveSource(database.db, { ...common, name: 'second', format: 'auto', accepts: 'app = gate', settings: {} });
  const directory = new SourceDirectory(database, pino({ level: 'silent' }));
  await directory.refresh();
  queue = new IntakeQueue();
  lost = 0;
  gatherer = new SyslogGatherer({ queue, directory, tapeRate: new TapeRate(), lost: (count) => (lost += count) });
});

afterEach(() => database.close());

const message = (app: string, text: string): Uint8Array =>
  new TextEncoder().encode(`<13>1 2026-11-24T08:00:00Z pier-4 ${app} - - - ${text}`);

/** What was delivered, the next that takes long where `long`: the texts of the messages by source. */
async function delivered(long = false): Promise<readonly (readonly [Delivery, readonly string[]])[]> {
  const group = long ? await queue.takeHeavy() : await queue.take(maxQueuedBytes, { least: 0, most: 0 });
  return (group ?? []).map(({ delivery }) => [
    delivery,
    delivery.chunks.map((chunk) => new TextDecoder().decode(chunk).split(' - - - ')[1] ?? ''),
  ]);
}

test('messages go to the first source whose condition takes them, in their order, and others to one of their own', async () => {
  for (const [app, text] of [
    ['gate', 'a'],
    ['link', 'b'],
    ['gate', 'c'],
    ['wheel', 'd'],
  ] as const)
    gatherer.add(message(app, text));
  gatherer.add(new TextEncoder().encode('no syslog at all'));
  await gatherer.flush();
  const parts = await delivered();
  expect(parts.map(([{ source, shape, format }, texts]) => [source, shape, format, texts])).toEqual([
    ['gates', 'messages', 'rfc5424', ['a', 'c']],
    ['link', 'messages', 'auto', ['b']],
    ['syslog', 'messages', 'auto', ['d', '']],
  ]);
  expect(parts[1]?.[0].masks).toEqual([{ find: 'ip', with: 'hash' }]);
  const keys = parts.map(([{ key }]) => key);
  expect(new Set(keys).size).toBe(3);
});

test('what is empty is passed over, and what is too long is cut', async () => {
  gatherer.add(new Uint8Array(0));
  await gatherer.flush();
  gatherer.add(message('gate', 'x'.repeat(2_000_000)));
  await gatherer.flush();
  const [[delivery] = []] = await delivered(true);
  expect(delivery?.chunks).toHaveLength(1);
  expect(delivery?.chunks[0]?.length).toBeLessThan(2_000_000);
});

test('what finds no room is counted as lost', async () => {
  const full: Delivery = {
    source: 's',
    shape: 'lines',
    format: 'auto',
    gzip: false,
    chunks: [],
    received: 0,
    backfill: false,
    tapeEvery: 1,
  };
  queue.offer({ delivery: full, bytes: maxQueuedBytes, answer: () => {} });
  for (const text of ['a', 'b', 'c']) gatherer.add(message('gate', text));
  await gatherer.flush();
  expect(lost).toBe(3);
});

test('many bytes are sent on at once, few after a moment', async () => {
  gatherer.add(message('gate', 'soon'));
  const [[, texts] = []] = await delivered();
  expect(texts).toEqual(['soon']);
});
