import { sql } from 'drizzle-orm';
import { afterAll, beforeAll, expect, inject, test } from 'vitest';
import { day, hour, minute } from '#core/events/time-units.ts';
import type { Database } from './database.ts';
import { findDeliveries, forgetDeliveries } from './events/deliveries.ts';
import { countQuarantine, cutQuarantine, listQuarantine } from './events/quarantine.ts';
import {
  contentBetween,
  exchangeSegments,
  listSegments,
  newSmallPlaces,
  readParts,
  removeExpired,
  removeReplaced,
  smallSegments,
  storedTiers,
  tierContents,
} from './events/segments.ts';
import {
  addShapeVolume,
  listNewShapes,
  removeShapeVolume,
  rollUpShapes,
  shapesSeen,
  shapesSince,
  sumShapes,
} from './events/shapes.ts';
import { cutTape, listTape, readTape } from './events/tape.ts';
import { latestRevision, listDiscardedDrafts, listRevisions } from './plan/plans.ts';
import { cutDrifts, listDrifts } from './sources/drifts.ts';
import { cutEmitterVolume, heardEmitters, listEmitters, planEmitter, sumEmitterVolume } from './sources/emitters.ts';
import { cutPositions, findObjects, latestObjects, listPositions, tryObjectsAgain } from './sources/positions.ts';
import { listSources, listTokens } from './sources/sources.ts';
import { emptyDatabase } from './testing/database.ts';
import { addToLedger, firstAndLastSeen, removeLedger, rollUpLedger, sumLedger } from './volume/ledger.ts';

const now = Date.UTC(2026, 10, 24, 9, 30);
const thisHour = Math.floor(now / hour) * hour;

let database: Database;

/** A year of rows, of ten sources and four tiers, made by the server itself. */
beforeAll(async () => {
  // One connection: what it read is what was read.
  database = await emptyDatabase(inject('mariadb'), 1);
  const fill = (statement: string) => database.db.execute(sql.raw(statement));
  const source = (of: string): string => `concat('source-', ${of} % 10)`;
  const tier = (of: string): string => `concat('tier-', ${of} % 4)`;
  await fill(
    `insert into volume_ledger (start, span, source, outcome, tier, rule, parsed, events, bytes, stored) select ${thisHour} - (seq div 10) * ${hour}, 1, ${source('seq')}, 'kept', ${tier('seq')}, '', 1, 5, 500, 50 from seq_300_to_88000`,
  );
  await fill(
    `insert into volume_ledger (start, span, source, outcome, tier, rule, parsed, events, bytes, stored) select ${Math.floor(now / minute) * minute} - (seq div 10) * ${minute}, 0, ${source('seq')}, 'kept', ${tier('seq')}, '', 1, 5, 500, 50 from seq_0_to_15999`,
  );
  await fill(
    `insert into segment (tier, source, slot, time_from, time_to, events, weight, bytes_in, bytes_stored, revision, replaced_at) select ${tier('seq')}, ${source('seq')}, ${now} - (seq div 40) * ${day}, ${now} - seq * 600000 - ${hour}, ${now} - seq * 600000, if(seq % 9 = 0, 500, 60000), 1, 1, 1, 1, null from seq_0_to_52000 order by seq desc`,
  );
  await fill(`insert into segment_part select id, n.seq, 'x' from segment, seq_0_to_3 n`);
  await fill(
    `insert into intake_key select ${source('seq')}, sha2(seq, 256), 1, 0, ${now} - seq * 2000 from seq_0_to_40000`,
  );
  await fill(
    `insert into tape_chunk (source, time_from, time_to, \`lines\`, data) select ${source('seq')}, ${now} - seq * 5000 - 5000, ${now} - seq * 5000, 10, 'x' from seq_0_to_18000`,
  );
  await fill(
    `insert into emitter select ${source('seq')}, concat('host-', seq), ${now} - ${day}, ${now}, '{}', 0, null from seq_0_to_3000`,
  );
  await fill(
    `insert into emitter_volume select ${thisHour} - (seq div 100) * ${hour}, ${source('seq')}, concat('host-', seq % 100), 1, 1 from seq_0_to_80000`,
  );
  await fill(
    `insert into file_position select ${source('seq')}, uuid(), '1-2', '/a', seq, 4, 'h', '[]', '', ${now} - seq * ${hour} from seq_0_to_4000`,
  );
  await fill(
    `insert into picked_object (source, identity, name, records, done, problem, attempts, retry_at, at) select ${source('seq')}, sha2(seq, 256), 'a', 1, 1, if(seq % 5000 = 0, 'broken', ''), 0, null, ${now} - seq * 300000 from seq_0_to_60000`,
  );
  await fill(
    `insert into drift (source, kind, subject, text, shows, since, noticed_at) select ${source('seq')}, 'k', 's', 't', '', ${now}, ${now} - seq * ${hour} from seq_0_to_700`,
  );
  await fill(
    `insert into quarantine (source, reason, records, bytes, at, delivery, data) select ${source('seq')}, 'r', 1, 1, ${now} - seq * ${hour}, '{}', 'x' from seq_0_to_300`,
  );
  const shape = (of: string): string => `lpad(conv(${of} % 300, 10, 32), 10, 's')`;
  const shapeRows = 'start, span, shape, source, tier, outcome, severity, events, bytes';
  await fill(
    `insert into shape_volume (${shapeRows}) select ${thisHour} - (seq div 40) * ${hour}, 1, ${shape('seq')}, ${source('seq')}, ${tier('seq')}, 'kept', 3, 5, 500 from seq_1200_to_350000`,
  );
  await fill(
    `insert into shape_volume (${shapeRows}) select ${Math.floor(now / minute) * minute} - (seq div 40) * ${minute}, 0, ${shape('seq')}, ${source('seq')}, ${tier('seq')}, 'kept', 3, 5, 500 from seq_0_to_63999`,
  );
  await fill(`insert into shape select ${shape('seq')}, '[]', 'x', 'source-1', '', ${now}, seq, 0 from seq_0_to_299`);
  await fill(`insert into plan_revision select seq, '{}', 'n', ${now} - seq * ${hour}, null from seq_1_to_800`);
  await fill(
    'analyze table volume_ledger, segment, segment_part, intake_key, tape_chunk, emitter, emitter_volume, file_position, picked_object, drift, shape, shape_volume',
  );
}, 180_000);

afterAll(() => database.close());

/** Rows that the server read, or put aside to be read again, while something was done over a connection of its own. */
async function rowsRead(work: (database: Database) => Promise<unknown>): Promise<number> {
  const counts = async (): Promise<number> => {
    const [rows] = await database.db.execute(sql`show session status like 'Handler_%'`);
    const values: { Variable_name: string; Value: string }[] = Object.values(rows as object);
    const read = values.filter(({ Variable_name: name }) => /^Handler_(read_(?!rnd_deleted)|tmp_write)/.test(name));
    return read.reduce((sum, { Value: value }) => sum + Number(value), 0);
  };
  const before = await counts();
  await work(database);
  return (await counts()) - before;
}

const lastDay = { from: now - day, to: now };
const identities = Array.from({ length: 50 }, (_, i) => String(i).padStart(64, '0'));
const entry = {
  start: thisHour,
  source: 'source-1',
  outcome: 'kept',
  tier: 'tier-1',
  rule: '',
  parsed: true,
  events: 1,
  bytes: 1,
  stored: 1,
} as const;

/** What is asked how often, and how many rows it may read for it: no more than it gives or changes, and some. */
const statements: readonly (readonly [name: string, most: number, work: (database: Database) => Promise<unknown>])[] = [
  [
    'which deliveries are known',
    200,
    (d) =>
      findDeliveries(
        d,
        identities.map((key) => ({ source: 'source-1', key })),
      ),
  ],
  ['adding to the ledger', 40, (d) => addToLedger(d.db, [entry])],
  ['the ledger of the last hour', 3_000, (d) => sumLedger(d, { from: now - hour, to: now }, ['outcome', 'parsed'], 0)],
  ['the ledger of a source and day', 5_000, (d) => sumLedger(d, { ...lastDay, source: 'source-1' }, ['outcome'], hour)],
  [
    'the ledger of two weeks',
    70_000,
    (d) => sumLedger(d, { from: now - 14 * day, to: now }, ['source', 'parsed'], hour),
  ],
  ['when sources were seen', 200, (d) => firstAndLastSeen(d)],
  ['adding to the volume of shapes', 40, (d) => addShapeVolume(d.db, [{ ...entry, shape: 's000000001', severity: 3 }])],
  ['the shapes of the last day', 140_000, (d) => sumShapes(d, lastDay, hour)],
  ['the shapes of two weeks', 110_000, (d) => sumShapes(d, { from: now - 14 * day, to: now - day }, 12 * hour)],
  ['one shape of a year', 12_000, (d) => sumShapes(d, { from: now - 365 * day, to: now, ids: ['ssssssssss1'] }, day)],
  ['when shapes were seen', 1_300, (d) => shapesSeen(d)],
  ['what was decided about shapes, when there is nothing new', 10, (d) => shapesSince(d.db, 299)],
  ['shapes to decide about, when there are none', 10, (d) => listNewShapes(d.db, 2_000)],
  ['putting shapes together', 40_000, (d) => rollUpShapes(d, now)],
  ['putting shapes together when there is nothing to do', 60, (d) => rollUpShapes(d, now)],
  ['taking a source out of the shapes', 20_000, (d) => removeShapeVolume(d.db, 'source-1', now - 30 * day)],
  ['putting the ledger together', 3_000, (d) => rollUpLedger(d, now)],
  ['putting the ledger together when there is nothing to do', 60, (d) => rollUpLedger(d, now)],
  ['segments of the last hour', 300, (d) => listSegments(d, { from: now - hour, to: now }, undefined)],
  ['segments of a day in some tiers', 800, (d) => listSegments(d, lastDay, ['tier-1', 'tier-2'])],
  ['parts of segments', 120, (d) => readParts(d, [1, 2, 3, 4], [0, 1, 2])],
  ['where small segments are new', 120, (d) => newSmallPlaces(d, 51_950, 32_768)],
  [
    'the small segments of a place',
    200,
    (d) => smallSegments(d, { tier: 'tier-1', source: 'source-1', slot: now - day }, 32_768),
  ],
  ['the tiers that are stored', 60, (d) => storedTiers(d.db)],
  [
    'what expires of a tier, when nothing does',
    20,
    (d) => removeExpired(d, 'tier-1', { from: 0, before: now - 800 * day }),
  ],
  ['what was replaced, when nothing was', 20, (d) => removeReplaced(d, now)],
  [
    'what would go of a tier',
    1_500,
    (d) => contentBetween(d, 'tier-1', { from: now - 10 * day, before: now - 5 * day }),
  ],
  ['exchanging segments', 80, (d) => exchangeSegments(d, { old: [1, 2], added: [], now })],
  ['what tiers hold', 120_000, (d) => tierContents(d)],
  ['the tape of an hour', 3_000, (d) => listTape(d, { from: now - hour, to: now })],
  ['the tape of a source', 3_800, (d) => listTape(d, lastDay, 'source-1')],
  ['chunks of the tape', 60, (d) => readTape(d, [1, 2, 3])],
  ['who was heard', 1_800, (d) => heardEmitters(d, 'source-1', { from: now - 7 * day, to: now })],
  ['what emitters sent in a day', 6_000, (d) => sumEmitterVolume(d, lastDay)],
  ['all emitters', 7_000, (d) => listEmitters(d.db)],
  [
    'what is said of an emitter',
    10,
    (d) => planEmitter(d.db, { source: 'source-1', name: 'host-1' }, { retired: true, expectedBack: null }),
  ],
  ['how far files were read', 1_000, (d) => listPositions(d, 'source-1')],
  ['which objects are known', 200, (d) => findObjects(d, 'source-1', identities)],
  ['the latest objects', 20_000, (d) => latestObjects(d, 'source-1')],
  ['changes of a week', 900, (d) => listDrifts(d, now - 7 * day)],
  ['what is set aside', 800, (d) => listQuarantine(d)],
  ['how much is set aside', 800, (d) => countQuarantine(d)],
  ['the latest revision', 5, (d) => latestRevision(d.db)],
  ['the latest revisions', 100, (d) => listRevisions(d, 20)],
  ['discarded drafts', 10, (d) => listDiscardedDrafts(d, now)],
  ['all sources', 30, (d) => listSources(d)],
  ['all tokens', 30, (d) => listTokens(d)],
  ['old keys, when there are none', 10, (d) => forgetDeliveries(d, now - 30 * day)],
  ['the old tape, when there is none', 10, (d) => cutTape(d, now - 30 * day)],
  ['old changes, when there are none', 10, (d) => cutDrifts(d, now - 90 * day)],
  ['old volumes of emitters, when there are none', 10, (d) => cutEmitterVolume(d, now - 90 * day)],
  ['old positions, when there are none', 10, (d) => cutPositions(d, now - 400 * day)],
  ['what was set aside long ago, when there is none', 10, (d) => cutQuarantine(d, now - 60 * day)],
  ['trying objects again', 7_000, (d) => tryObjectsAgain(d.db, 'source-1')],
  ['taking a source out of the ledger', 60_000, (d) => removeLedger(d.db, 'source-1', now - 30 * day)],
];

test('over a year of rows every statement reads no more than it needs', async () => {
  const found: string[] = [];
  for (const [name, most, work] of statements) {
    const read = await rowsRead(work);
    if (read > most) found.push(`${name}: ${read} rows instead of ${most}`);
  }
  expect(found).toEqual([]);
});
