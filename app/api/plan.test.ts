import { eq } from 'drizzle-orm';
import { afterAll, beforeAll, beforeEach, describe, expect, inject, test } from 'vitest';
import type { PlanDocument } from '#core/plan/document.ts';
import { send, startEngine, type TestEngine } from '#engine/testing/engine.ts';
import { readDraft, removeDraft, saveDraft } from '#store/plan/plans.ts';
import { revisions as planRevisions } from '#store/plan/schema.ts';
import { addToLedger, removeLedger } from '#store/volume/ledger.ts';
import { handle } from '../_server/handle.ts';
import { ask, nowhere } from './testing/ask.ts';

const audit = { GET: handle('audit') };
const catalogue = { GET: handle('catalogue') };
const discarded = { GET: handle('discardedDrafts') };
const publish = { POST: handle('publishDraft') };
const rebase = { POST: handle('rebaseDraft') };
const rehearsal = { POST: handle('rehearseDraft') };
const draft = { GET: handle('draft'), PUT: handle('saveDraft'), DELETE: handle('discardDraft') };
const restore = { POST: handle('restoreRevision') };
const revisions = { GET: handle('revisions') };
const plan = { GET: handle('plan') };
const text = { GET: handle('planText'), PUT: handle('takePlanText') };
const rejectsRehearsal = { POST: handle('rehearseRejects') };
const retry = { POST: handle('retryRejects') };
const steps = { GET: handle('steps') };
const tables = { GET: handle('tables'), PUT: handle('saveTable'), DELETE: handle('removeTable') };

let engine: TestEngine;

beforeAll(async () => {
  engine = await startEngine(inject('mariadb'));
  Object.assign(process.env, engine.environment);
  await engine.source('fares');
});

beforeEach(() => removeDraft(engine.database.db));

afterAll(async () => {
  await engine.stop();
});

const rest = { id: 'rest', title: 'Rest', keep: '7d' };

/** A plan that cuts lines of fares with a template. */
function fares(template: string, more: Readonly<Record<string, unknown>> = {}): PlanDocument {
  const steps = [{ extract: { from: 'body', template }, ...more }];
  return { plan: 1, pipelines: [{ id: 'fares', title: 'Fares', when: 'source = fares', steps }], tiers: [rest] };
}

async function live(): Promise<{ revision: number; plan: PlanDocument }> {
  return await (await plan.GET(ask('/'), nowhere)).json();
}

async function put(document: unknown): Promise<Response> {
  const before = await (await draft.GET(ask('/'), nowhere)).json();
  return await draft.PUT(ask('/api/plan/draft', 'PUT', { plan: document, version: before?.version ?? 0 }), nowhere);
}

async function publishWith(note: string): Promise<Response> {
  return await publish.POST(ask('/api/plan/draft/publish', 'POST', { note }), nowhere);
}

describe('a draft', () => {
  test('is not there at first, and is gone when it says what is live', async () => {
    expect(await (await draft.GET(ask('/'), nowhere)).json()).toBeNull();
    const { plan: current } = await live();
    expect(await (await put({ ...current, tiers: [...current.tiers, { ...rest, id: 'more' }] })).json()).toMatchObject({
      problems: [],
      changes: [expect.objectContaining({ kind: 'added' })],
    });
    expect(await (await put(current)).json()).toBeNull();
  });

  test('may be wrong, but says so, and is neither rehearsed nor published then', async () => {
    const wrong = await (await put(fares('fare {n:itn}'))).json();
    expect(wrong.problems[0]).toMatchObject({ path: 'pipelines[0].steps[0].extract.template' });
    const rehearsed = await rehearsal.POST(ask('/', 'POST'), nowhere);
    expect([rehearsed.status, (await rehearsed.json()).title]).toEqual([400, 'The draft is not valid']);
    expect((await publishWith('in spite of it')).status).toBe(400);
    expect((await put('no plan')).status).toBe(400);
  });

  test('is thrown away', async () => {
    await put(fares('fare {n:int}'));
    expect(await (await draft.DELETE(ask('/'), nowhere)).json()).toBeNull();
    expect((await rehearsal.POST(ask('/', 'POST'), nowhere)).status).toBe(404);
    expect((await publishWith('nothing')).status).toBe(404);
  });
});

test('a discarded draft is described by its own changes, whatever was published since', async () => {
  const { changes } = await (await put(fares('fare {n:int}'))).json();
  expect(changes.length).toBeGreaterThan(0);
  await draft.DELETE(ask('/'), nowhere);
  const { plan: current } = await live();
  const [rest] = current.tiers;
  await put({ ...current, tiers: [{ ...rest, title: 'All of it' }] });
  expect((await publishWith('Another title')).status).toBe(200);
  const { drafts } = await (await discarded.GET(ask('/'), nowhere)).json();
  expect(drafts[0].changes).toEqual(changes);
  await put(current);
  expect((await publishWith('The title as it was')).status).toBe(200);
});

describe('from a draft to a revision and back', () => {
  test('rehearsed, published with a note, measured, and brought back', async () => {
    const before = await live();
    await send(engine, 'fares', 'fare 12\nfare 14 EUR\nother');
    await engine.found({ condition: 'source = fares' }, 3);
    await put(fares('fare {n:int}'));
    const inLines = new Request('http://127.0.0.1:3000/', {
      method: 'POST',
      headers: { accept: 'application/x-ndjson' },
    });
    const lines = (await (await rehearsal.POST(inLines, nowhere)).text()).trimEnd().split('\n');
    const [{ progress }, { result: predicted }] = [JSON.parse(lines[0] ?? ''), JSON.parse(lines.at(-1) ?? '')];
    expect(progress.parsed.draft).toBeGreaterThan(0);
    expect(progress.all).toBeGreaterThanOrEqual(progress.done);
    expect(predicted.parsed.draft).toBeCloseTo(1 / 3, 5);
    expect(await (await draft.GET(ask('/'), nowhere)).json()).toMatchObject({ rehearsal: { taped: 3 } });

    expect((await publishWith('  ')).status).toBe(400);
    expect((await publishWith('Cut fares')).status).toBe(200);
    const after = await live();
    expect(after.revision).toBe(before.revision + 1);
    expect(await (await draft.GET(ask('/'), nowhere)).json()).toBeNull();
    await send(engine, 'fares', 'fare 20');
    await engine.found({ condition: 'n = 20' }, 1);

    const list = async () => (await (await revisions.GET(ask('/'), nowhere)).json()).revisions;
    expect((await list())[0]).toMatchObject({
      number: after.revision,
      note: 'Cut fares',
      changes: expect.arrayContaining([expect.objectContaining({ kind: 'added' })]),
      // No whole minute of it is over.
      ...{ isRehearsed: true, until: null, effect: null },
    });
    // As if it had been published ten minutes ago: of what arrived since, half was parsed.
    const then = Math.floor(Date.now() / 60_000) * 60_000 - 600_000;
    const { db } = engine.database;
    await db.update(planRevisions).set({ publishedAt: then }).where(eq(planRevisions.number, after.revision));
    // What was sent so far came in minutes that may be over by now, or not.
    await removeLedger(db, 'fares', 0);
    const row = { start: then + 120_000, source: 'fares', tier: 'rest', rule: '', events: 30, bytes: 300, stored: 60 };
    await addToLedger(db, [
      { ...row, outcome: 'kept', parsed: true },
      { ...row, outcome: 'kept', parsed: false },
      { ...row, outcome: 'kept', parsed: true, source: 'news' },
    ]);
    expect((await list())[0]?.effect).toMatchObject({
      ...{ from: then, arrived: { events: 60, bytes: 600 }, newSources: ['news'] },
      parsed: { before: 0, predicted: 20, measured: 30 },
      kept: { before: 600, predicted: 600, measured: 600 },
    });
    await removeLedger(db, 'fares', then);
    await removeLedger(db, 'news', then);
    expect((await (await steps.GET(ask('/'), nowhere)).json()).steps).toHaveProperty('fares/1');

    const context = (number: string) => ({ params: Promise.resolve({ number }) });
    const old = await (await restore.POST(ask('/', 'POST'), context(String(before.revision)))).json();
    expect(old.plan).toEqual(before.plan);
    expect((await publishWith('Back')).status).toBe(200);
    expect((await live()).plan).toEqual(before.plan);
    expect((await restore.POST(ask('/', 'POST'), context('999'))).status).toBe(404);
    for (const number of ['first', '1.5'])
      expect((await restore.POST(ask('/', 'POST'), context(number))).status).toBe(400);
  });

  test('rejects are rehearsed with the draft and tried again with the plan that is live', async () => {
    await put(fares('fee {n:int}', { 'on-failure': 'reject' }));
    await publishWith('Fees only');
    await send(engine, 'fares', 'fare 1\nfare 2');
    const reason = 'fares/1: expected “fee ”';
    await engine.found({ condition: 'has parse.failed', tiers: ['rejects'] }, 2);
    await put(fares('fare {n:int}', { 'on-failure': 'reject' }));
    const rehearsed = await rejectsRehearsal.POST(ask('/', 'POST', { reason }), nowhere);
    expect(await rehearsed.json()).toMatchObject({ taped: 2, kept: { live: { events: 0 }, draft: { events: 2 } } });
    await publishWith('Fares again');
    expect(await (await retry.POST(ask('/', 'POST', { reason }), nowhere)).json()).toMatchObject({ retried: 2 });
    expect((await engine.found({ condition: 'n in (1, 2)' }, 2)).total).toBe(2);
    expect(await (await retry.POST(ask('/', 'POST', { reason }), nowhere)).json()).toMatchObject({ retried: 0 });
  });
});

describe('plans as text', () => {
  test('go out as YAML and come in again as the same plan', async () => {
    await put(fares('fare {n:int}'));
    const answer = await text.GET(ask('/api/plan/text'), nowhere);
    expect(answer.headers.get('content-disposition')).toContain('plan.yaml');
    const yaml = await answer.text();
    await draft.DELETE(ask('/'), nowhere);
    const back = await text.PUT(ask('/api/plan/text', 'PUT', { text: yaml.replace('Fares', 'Fares, again') }), nowhere);
    expect((await back.json()).plan.pipelines[0].title).toBe('Fares, again');
  });

  test('one pipeline joins the others', async () => {
    await put(fares('fare {n:int}'));
    const answer = await text.GET(ask('/api/plan/text?pipeline=fares'), nowhere);
    const yaml = (await answer.text()).replace('id: fares', 'id: fees');
    const joined = await (await text.PUT(ask('/', 'PUT', { text: yaml }), nowhere)).json();
    expect(joined.plan.pipelines.map(({ id }: { id: string }) => id)).toEqual(['fares', 'fees']);
    expect((await text.GET(ask('/api/plan/text?pipeline=none'), nowhere)).status).toBe(404);
  });

  test('faults are reported with line and column', async () => {
    const answer = await text.PUT(
      ask('/', 'PUT', { text: 'plan: 1\npipelines: []\ntiers:\n  - id: rest\n    keep: soon\n' }),
      nowhere,
    );
    expect(answer.status).toBe(400);
    const { detail, problems } = await answer.json();
    expect(detail).toMatch(/^line \d+, column \d+: /);
    expect(problems.length).toBeGreaterThan(0);
  });
});

describe('what steps look up', () => {
  const put = (body: object): Promise<Response> => tables.PUT(ask('/api/tables', 'PUT', body), nowhere);

  test('a table is added, listed, and removed', async () => {
    expect(await (await put({ name: 'ports', csv: 'code,port\nSKV,Skerryvoe\n' })).json()).toEqual({
      columns: ['code', 'port'],
      rows: 1,
    });
    const list = await (await tables.GET(ask('/'), nowhere)).json();
    expect(list.tables.map(({ name }: { name: string }) => name)).toEqual(['ports']);
    await tables.DELETE(ask('/', 'DELETE', { name: 'ports' }), nowhere);
    expect((await (await tables.GET(ask('/'), nowhere)).json()).tables).toEqual([]);
  });

  test('one that is none is refused', async () => {
    expect((await put({ name: 'Ports!', csv: 'a,b\n1,2' })).status).toBe(400);
    expect((await put({ name: 'ports', csv: 'only' })).status).toBe(400);
  });
});

test('the catalogue tells fields with who makes and reads them', async () => {
  await put({ ...fares('fare {n:int}'), tiers: [{ ...rest, when: 'n > 3' }] });
  const { fields, makers, readers, draft: ofDraft } = await (await catalogue.GET(ask('/'), nowhere)).json();
  expect(ofDraft).toBe(true);
  expect(fields.map(({ name }: { name: string }) => name)).toContain('n');
  expect(JSON.stringify(makers ?? {})).toContain('fares');
  expect(JSON.stringify(readers ?? {})).toContain('rest');
});

describe('two people at one draft', () => {
  const putOn = async (version: number, document: PlanDocument, basedOn?: number): Promise<Response> =>
    await draft.PUT(ask('/', 'PUT', { plan: document, version, ...(basedOn !== undefined && { basedOn }) }), nowhere);
  const withTier = (document: PlanDocument, keep: string): PlanDocument => ({
    ...document,
    tiers: document.tiers.map((tier) => ({ ...tier, keep })),
  });

  test('who saves on an older draft is refused, with the draft as it is now', async () => {
    const { plan: current } = await live();
    const first = await (await putOn(0, withTier(current, '8d'))).json();
    const second = await (await putOn(first.version, withTier(current, '9d'))).json();
    expect(second.version).toBeGreaterThan(first.version);
    const late = await putOn(first.version, withTier(current, '10d'));
    expect(late.status).toBe(409);
    const { draft: now, title } = await late.json();
    expect([now.version, title]).toEqual([second.version, 'The draft has changed']);
    expect((await putOn(0, withTier(current, '10d'))).status).toBe(409);
    expect((await publish.POST(ask('/', 'POST', { note: 'late', version: first.version }), nowhere)).status).toBe(409);
    expect(await (await draft.GET(ask('/'), nowhere)).json()).toEqual(now);
  });

  test('a draft that another one published is not made anew without a refusal', async () => {
    const { plan: current, revision } = await live();
    const { version } = await (await putOn(0, withTier(current, '8d'), revision)).json();
    await publishWith('Eight days');
    const late = await putOn(version, withTier(current, '9d'));
    expect([late.status, (await late.json()).draft]).toEqual([409, null]);
    expect((await putOn(0, withTier(current, '9d'), revision)).status).toBe(409);
    expect((await putOn(0, withTier(current, '9d'), revision + 1)).status).toBe(200);
  });
});

describe('a draft from before what others published', () => {
  const tiers = (first: object, more: readonly object[] = []): PlanDocument => ({
    plan: 1,
    pipelines: [],
    tiers: [{ ...rest, ...first }, ...more] as PlanDocument['tiers'],
  });

  /** Publishes behind the back of the draft, as another window would. */
  async function publishElsewhere(document: PlanDocument): Promise<void> {
    const stored = await readDraft(engine.database.db);
    await engine.publish(document);
    if (!stored) throw new Error('there was no draft');
    const { id: _, version: __, ...before } = stored;
    await saveDraft(engine.database.db, before);
  }

  test('says what it would undo, is put on the live revision, and published then', async () => {
    await engine.publish(tiers({ keep: '20d' }));
    await put(tiers({ keep: '20d', title: 'The rest' }));
    await publishElsewhere(tiers({ keep: '20d' }, [{ id: 'more', title: 'More', keep: '5d' }]));
    const behind = await (await draft.GET(ask('/'), nowhere)).json();
    expect(behind.changes.map(({ path }: { path: string }) => path)).toHaveLength(1);
    expect(JSON.stringify(behind.behind)).toContain('More');
    const refused = await publishWith('Would undo');
    expect(refused.status).toBe(409);
    expect(JSON.stringify(await refused.json())).toContain('More');
    const rebased = await (await rebase.POST(ask('/', 'POST', {}), nowhere)).json();
    expect(rebased.behind).toEqual([]);
    expect(rebased.plan.tiers.map(({ title }: { title: string }) => title)).toEqual(['The rest', 'More']);
    expect((await publishWith('Both')).status).toBe(200);
  });

  test('where both touch the same, someone chooses', async () => {
    await engine.publish(tiers({ keep: '20d' }));
    await put(tiers({ keep: '30d' }));
    await publishElsewhere(tiers({ keep: '25d' }));
    const asked = await rebase.POST(ask('/', 'POST', {}), nowhere);
    expect(asked.status).toBe(409);
    const { conflicts } = await asked.json();
    expect(conflicts).toEqual([{ path: 'tiers/rest/keep', before: '20d', mine: '30d', theirs: '25d' }]);
    expect((await rebase.POST(ask('/', 'POST', { choices: { 'tiers/rest/keep': 'both' } }), nowhere)).status).toBe(400);
    const chosen = await rebase.POST(ask('/', 'POST', { choices: { 'tiers/rest/keep': 'mine' } }), nowhere);
    expect((await chosen.json()).plan.tiers[0].keep).toBe('30d');
  });
});

test('every change is written down with what it changed, and no secret is', async () => {
  await tables.PUT(ask('/', 'PUT', { name: 'ports', csv: 'code,port\nSKV,Skerryvoe\n' }), nowhere);
  await put(fares('fare {n:int}'));
  await publishWith('Cut fares');
  const { changes } = await (await audit.GET(ask('/api/audit?most=3'), nowhere)).json();
  expect(changes.map(({ command, subject }: { command: string; subject: string }) => `${command} ${subject}`)).toEqual([
    'POST /api/plan/draft/publish Cut fares',
    'PUT /api/plan/draft draft',
    'PUT /api/tables ports',
  ]);
  expect(JSON.stringify(changes)).not.toContain('Skerryvoe');
  expect((await audit.GET(ask('/api/audit?most=5000'), nowhere)).status).toBe(400);
});
