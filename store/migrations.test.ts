import { cpSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { sql } from 'drizzle-orm';
import { expect, inject, test } from 'vitest';
import { decodeHeader, headerNumber } from '#core/segments/header.ts';
import { openDatabase } from './database.ts';
import { findDeliveries } from './events/deliveries.ts';
import { readParts } from './events/segments.ts';
import { migrateDatabase } from './migrate.ts';
import { findObjects, listPositions, objectIdentity } from './sources/positions.ts';
import { listRewinds } from './sources/rewinds.ts';
import { listTokens } from './sources/sources.ts';
import { newDatabase } from './testing/database.ts';
import { sumLedger } from './volume/ledger.ts';

const folder = 'store/migrations';

/** The migrations up to the second, in a folder of their own. */
function earlier(): string {
  const copy = mkdtempSync(join(tmpdir(), 'otter-migrations-'));
  cpSync(folder, copy, { recursive: true });
  const file = join(copy, 'meta/_journal.json');
  const journal = JSON.parse(readFileSync(file, 'utf8'));
  writeFileSync(file, JSON.stringify({ ...journal, entries: journal.entries.slice(0, 2) }));
  return copy;
}

test('what an earlier version stored is there after the change', async () => {
  const before = earlier();
  const database = openDatabase(await newDatabase(inject('mariadb')), 1);
  await migrateDatabase(database, before);
  const run = (statement: string) => database.db.execute(sql.raw(statement));
  const now = Date.now();
  const old = Math.floor(now / 3_600_000) * 3_600_000 - 10 * 86_400_000;
  await run("insert into segment_part values (1, 'time', 'T'), (1, 'number:a', 'A'), (2, '*', 'W')");
  await run(`insert into intake_key values ('gates', 'key one', 3, 0, ${now})`);
  await run(
    `insert into picked_object (source, identity, records, done, problem, at) values ('store', 'a/b.csv 1', 7, 1, '', ${now})`,
  );
  await run(
    `insert into file_position values ('desk', '64-12 1024 0123456789abcdef0123456789abcdef', '/a.log', 2048, ${now})`,
  );
  await run(`insert into volume_ledger values (${old}, 'gates', 'kept', 'rest', '', 1, 5, 50, 5)`);
  await run(
    `insert into source (name, kind, labels, accepts, settings, created_at) values ('desk', 'files', '{}', '', '{"rewoundAt":5,"notBefore":3}', 1)`,
  );
  await run(
    `insert into token (hash, source, hint, created_at) values ('${'a'.repeat(64)}', 'desk', 'aaaa', 1), ('${'b'.repeat(64)}', 'desk', 'bbbb', 1)`,
  );
  await migrateDatabase(database, folder);
  rmSync(before, { recursive: true });

  const [header] = await readParts(database, [1], [headerNumber]);
  const numbers = decodeHeader(header?.data ?? new Uint8Array(0)).parts;
  expect([...numbers.keys()].sort()).toEqual(['number:a', 'time']);
  const [part] = await readParts(database, [1], [numbers.get('number:a') ?? 0]);
  expect(Buffer.from(part?.data ?? []).toString()).toBe('A');
  expect(await findDeliveries(database, [{ source: 'gates', key: 'key one' }])).toMatchObject([{ accepted: 3 }]);
  const identity = objectIdentity('a/b.csv', '1');
  expect((await findObjects(database, 'store', [identity])).get(identity)).toMatchObject({ records: 7, done: true });
  expect(await listPositions(database, 'desk')).toMatchObject([
    { place: '64-12', headLength: 1024, headHash: '0123456789abcdef0123456789abcdef', offset: 2048, marks: [] },
  ]);
  expect(await sumLedger(database, { from: 0, to: now }, ['source'], 0)).toMatchObject([
    { source: 'gates', events: 5 },
  ]);
  expect(await listRewinds(database)).toMatchObject([{ source: 'desk', from: 3, requestedAt: 5, step: 'done' }]);
  expect((await listTokens(database)).map(({ id }) => id).sort()).toEqual([1, 2]);
  await database.close();
});

test('tables that were renamed before an interruption are passed over by the next attempt', async () => {
  const database = openDatabase(await newDatabase(inject('mariadb')), 1);
  await migrateDatabase(database, folder);
  const statements = readFileSync(join(folder, '0016_deltas.sql'), 'utf8').split('--> statement-breakpoint');
  expect(statements).toHaveLength(2);
  for (const statement of statements) await database.db.execute(sql.raw(statement));
  await database.close();
});
