import { ValidationError } from 'yup';
import type { EventAnswer, NamesAnswer, SearchAnswer, SearchProblem, WhyEmptyAnswer } from '#core/answers/search.ts';
import { builtInFields } from '#core/conditions/ast.ts';
import { compileCondition } from '#core/conditions/condition.ts';
import { parseTime } from '#core/conditions/times.ts';
import { exportFormats } from '#core/exports/index.ts';
import { ndjson } from '#core/exports/ndjson.ts';
import { operations } from '#core/operations/index.ts';
import { firstPlan } from '#core/plan/document.ts';
import { fieldsOfPlan } from '#core/plan/doubts/plan-doubts.ts';
import { passingTier, rejectsTier } from '#core/routing/built-in-tiers.ts';
import { timeOfEventId } from '#core/search/event-id.ts';
import { originOf } from '#core/search/event-origin.ts';
import { compileExtraction, type ExtractionText } from '#core/search/extraction.ts';
import { whyEmpty as reasonsOfEmpty } from '#core/search/why-empty.ts';
import { parseSummary } from '#core/summaries/parse-summary.ts';
import { revisionAt } from '#store/plan/plans.ts';
import { sumLedger } from '#store/volume/ledger.ts';
import { designedPlan, parsePlan } from '../../plan/stored-plans.ts';
import type { NamesNow } from '../../search/doubts.ts';
import { exported } from '../../search/run-export.ts';
import { runSearch, type SearchSetting } from '../../search/run-search.ts';
import { tapedAt } from '../../search/taped-at.ts';
import type { ReadSources } from '../../usage/read-sources.ts';
import { usedBySearch, usedInSources } from '../../usage/uses.ts';
import type { QueryText } from '../../workers/query.ts';
import { type Asking, question, StreamAnswer } from '../handler.ts';
import { knownNames } from '../plan/draft-answer.ts';
import { Refusal } from '../refusal.ts';
import type { OperationServices } from '../services.ts';
import { savedConditions, withoutSaved } from './expand-saved.ts';

/** A time as it was asked for, in milliseconds. Throws Yup's error about one that cannot be read. */
export function timeOf(value: string | number, now: number): number {
  const time = typeof value === 'number' ? value : parseTime(value, now);
  if (time === undefined) throw new ValidationError(`${value} is not a time. Examples: -45m, now, 2026-11-24T08:15`);
  return time;
}

function refused(problem: SearchProblem): Refusal {
  return new Refusal(400, '', problem.message, { problem });
}

/** Runs a search that was asked for; refuses one that is wrong. */
export async function searchWith(
  services: OperationServices,
  asked: QueryText,
  tiers: readonly string[] | undefined,
  { signal, progress, deadline, isRecorded = false }: SearchAsking,
): Promise<SearchAnswer> {
  const query = await checkedQuery(services, asked);
  services.measures.searches++;
  let read: ReadSources | undefined;
  const answer = await runSearch(searchSetting(services), query, {
    ...{ tiers, written: asked.condition, signal, progress, deadline },
    ...(isRecorded && { onSources: (found) => (read = found) }),
  });
  if (read) services.usage.note(usedBySearch(query, answer, read, Date.now()));
  return answer;
}

interface SearchAsking extends Pick<Asking, 'signal' | 'progress'> {
  readonly deadline?: number;
  /** Whether it counts as usage of what it reads. */
  readonly isRecorded?: boolean;
}

/** A query whose saved searches gave way to what they stand for; refuses one that is wrong. */
export async function checkedQuery({ database }: OperationServices, asked: QueryText): Promise<QueryText> {
  const query = { ...asked, condition: await withoutSaved(database.db, asked.condition) };
  const condition = compileCondition(query.condition);
  if (!condition.ok) throw refused({ in: 'condition', ...condition.problem });
  const summary = query.summary === '' ? undefined : parseSummary(query.summary);
  if (summary && !summary.ok) throw refused({ in: 'summary', ...summary.problem });
  const extraction = query.extraction && compileExtraction(query.extraction);
  if (extraction && !extraction.ok) throw refused({ in: 'with', ...extraction.problem });
  if (query.from >= query.to) throw new Refusal(400, '', 'The window ends before it begins.');
  return query;
}

/** What searches of these services read with. */
export function searchSetting(services: OperationServices): SearchSetting {
  const { database, pools, headers, directory, shapes } = services;
  const { current } = shapes.known;
  return { database, pools, headers, fleets: directory.fleets, currentShape: current, names: namesOf(services) };
}

function namesOf({ directory, plan }: OperationServices): NamesNow {
  return {
    sources: directory.names,
    tiers: [...plan.current().plan.tiers, passingTier, rejectsTier].map(({ id }) => id),
    fleets: directory.fleetNames,
  };
}

/** What is extracted by a template of a source's lines; none by an empty one. */
function extractionOf(asked: { readonly with: string; readonly withFrom: string }): ExtractionText | undefined {
  return asked.with === '' ? undefined : { template: asked.with, from: asked.withFrom };
}

export const search = question(
  operations.search,
  async ({ show, from, to, tiers, background, ...rest }, services, asking) => {
    const now = Date.now();
    const window = { from: timeOf(from, now), to: timeOf(to, now) };
    const query = { ...rest, ...window, summary: show, extraction: extractionOf(rest) };
    return await searchWith(services, query, tiers, { ...asking, isRecorded: !background });
  },
);

export const exportEvents = question(operations.exportEvents, async ({ format, ...asked }, services, { signal }) => {
  const now = Date.now();
  const window = { from: timeOf(asked.from, now), to: timeOf(asked.to, now) };
  const page = { summary: '', limit: 0, buckets: 0, fields: false };
  const { condition } = asked;
  const text = await checkedQuery(services, { condition, ...window, ...page, extraction: extractionOf(asked) });
  const onSources = (read: ReadSources): void => services.usage.note(usedInSources('export', text, read, Date.now()));
  const { type, ending } = exportFormats.get(format) ?? ndjson;
  if (exports >= mostExports)
    throw new Refusal(429, '', `${mostExports} exports are under way, and no more can be at a time. Try again later.`);
  const pieces = counted(exported(searchSetting(services), { text, format, signal, onSources }));
  return new StreamAnswer(pieces, type, `events.${ending}`);
});

/** Most exports of an engine at a time, and how many there are. */
const mostExports = 4;
let exports = 0;

/** Counts an export from its first piece to its last one, or until nobody takes it any more. */
async function* counted<Piece>(pieces: AsyncIterable<Piece>): AsyncGenerator<Piece> {
  exports++;
  try {
    yield* pieces;
  } finally {
    exports--;
  }
}

/** How long it is looked for the last event that fits, in milliseconds. */
const longestForLast = 10_000;

export const whyEmpty = question(operations.whyEmpty, async (asked, services, asking): Promise<WhyEmptyAnswer> => {
  const now = Date.now();
  const window = { from: timeOf(asked.from, now), to: timeOf(asked.to, now) };
  const before = {
    condition: asked.condition,
    summary: '',
    from: Math.min(0, window.from - 1),
    to: window.from,
    limit: 1,
  };
  const query = { ...before, count: false, buckets: 0, fields: false, extraction: extractionOf(asked) };
  const { events, unread } = await searchWith(services, query, undefined, {
    ...asking,
    deadline: now + longestForLast,
  });
  const sums = await sumLedger(services.database, window, ['source', 'outcome', 'tier', 'rule'], 0);
  const condition = await withoutSaved(services.database.db, asked.condition);
  const why = reasonsOfEmpty(sums, { condition, window, plan: services.plan.current().plan, now });
  return { ...why, isLookedThrough: unread === 0, ...(events[0] && { lastFound: events[0].time }) };
});

/** Most events of one millisecond among which one is looked for. */
const mostOfMillisecond = 1_000;

export const event = question(operations.event, async ({ id }, services, asking): Promise<EventAnswer> => {
  const from = timeOfEventId(id) ?? 0;
  const lines = { limit: mostOfMillisecond, count: false, buckets: 0, fields: false };
  const query = { condition: '', summary: '', from, to: from + 1, ...lines };
  const { events } = await searchWith(services, query, undefined, asking);
  const found = events.find((one) => one.id === id);
  if (!found) throw new Refusal(404, '', 'It is not stored: it has expired from its tier, or never was.');
  const { database } = services;
  const revision = await revisionAt(database.db, found.received);
  const plan = revision ? parsePlan(revision.plan) : firstPlan;
  const origin = originOf(found, plan, await tapedAt(database, found.source, found.received));
  return { event: found, revision: revision?.number ?? 0, origin };
});

export const names = question(operations.names, async (_input, services): Promise<NamesAnswer> => {
  const { plan } = await designedPlan(services.database.db);
  const { fields } = await knownNames(services);
  return {
    ...namesOf(services),
    saved: Object.fromEntries(await savedConditions(services.database.db)),
    fields: fields ? [...new Set([...builtInFields, ...fieldsOfPlan(plan), ...fields])] : null,
  };
});

export const fields = question(operations.fields, async (_input, services, asking) => {
  const now = Date.now();
  const query = { condition: '', summary: '', from: now - 3 * 3_600_000, to: now, limit: 0, buckets: 0, fields: true };
  return await searchWith(services, query, undefined, asking);
});
