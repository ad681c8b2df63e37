import type { DraftChanged, RebaseConflicts } from '#core/answers/plan.ts';
import { operations } from '#core/operations/index.ts';
import { diffPlans } from '#core/plan/diff.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import { draftOf } from '#core/plan/draft-of.ts';
import { isSame, merge } from '#core/plan/merge.ts';
import type { PipelineDocument } from '#core/plan/parts/pipelines/pipelines-shape.ts';
import { writePipeline, writePlan } from '#core/plan/plan-text.ts';
import { flowsOfMoves } from '#core/rehearsal/flows.ts';
import { hourSpreads, shapeSpreads } from '#core/rehearsal/hour-spreads.ts';
import { findingsForm, type RehearsalFindings } from '#core/rehearsal/rehearsal-answer.ts';
import type { RehearsedDocuments } from '#core/rehearsal/rehearsal-money.ts';
import { rehearsalSpan } from '#core/rehearsal/rehearsal-span.ts';
import { flowsOfChange } from '#core/rehearsal/revision-saving.ts';
import type { PromisedSaving } from '#core/views/revision-effect.ts';
import type { Queryable } from '#store/database.ts';
import {
  discardDraft as discard,
  listDiscardedDrafts,
  removeDraft,
  saveRehearsal,
  saveDraft as store,
  takeUpDraft as takeUp,
} from '#store/plan/plans.ts';
import { inTurn } from '../../base/in-turn.ts';
import {
  checkedDraft,
  livePlan,
  lockedDraft,
  parsePlan,
  planOfRevision,
  planOrFirst,
  type StoredDraft,
  storedDraft,
} from '../../plan/stored-plans.ts';
import { rehearseTape } from '../../search/run-rehearsal.ts';
import { planWithoutSaved, withoutSaved } from '../explore/expand-saved.ts';
import { command, longCommand, question, TextAnswer } from '../handler.ts';
import { Refusal } from '../refusal.ts';
import type { OperationServices } from '../services.ts';
import { besideLivePlan, draftAnswer, rightPlan, withMonthOfMoney, wrongDraft } from './draft-answer.ts';
import { eventReaders } from './readers.ts';

const readDraftAnswer = (services: OperationServices) => draftAnswer(services);

export const draft = question(operations.draft, (_input, services) => readDraftAnswer(services));

/** Stores a plan as the draft, which began where the one before it did; one that says what is live is none. */
async function keep(tx: Queryable, plan: PlanDocument, before: StoredDraft | undefined, now: number): Promise<null> {
  const live = await livePlan(tx);
  if (isSame(plan, live.plan)) await removeDraft(tx);
  else {
    const basedOn = before?.basedOn ?? live.revision;
    await store(tx, { plan: JSON.stringify(plan), basedOn, changedAt: now, rehearsal: null });
  }
  return null;
}

/** Refuses a change that was made on another draft than there is now; both can be looked at. */
async function checkVersion(
  services: OperationServices,
  before: StoredDraft | undefined,
  version: number | undefined,
): Promise<void> {
  if (version === undefined || version === (before?.version ?? 0)) return;
  const more: DraftChanged = { draft: await readDraftAnswer(services) };
  const detail = before
    ? 'Someone else changed the draft meanwhile. Your change was not saved; make it again on the current draft.'
    : 'Someone else published or discarded the draft meanwhile. Your change was not saved.';
  throw new Refusal(409, 'The draft has changed', detail, more);
}

export const saveDraft = command(operations.saveDraft, {
  subject: () => 'draft',
  record: ({ version }) => ({ version }),
  carryOut: async ({ plan, version, basedOn }, { tx, services, now }) => {
    const before = await lockedDraft(tx);
    await checkVersion(services, before, version);
    // A draft that begins from a revision that is not live any more would take back what was published since.
    if (!before && basedOn !== undefined && basedOn !== (await livePlan(tx)).revision)
      throw new Refusal(409, 'The live revision has changed', 'Your change was not saved.', { draft: null });
    return await keep(tx, await planWithoutSaved(tx, draftOf(plan)), before, now);
  },
  answerAfter: readDraftAnswer,
});

export const discardDraft = command(operations.discardDraft, {
  subject: () => 'draft',
  carryOut: async (_input, { tx, now }) => {
    await discard(tx, now);
    return null;
  },
});

export const planText = question(operations.planText, async ({ pipeline: id }, { database }) => {
  const { plan } = (await storedDraft(database.db)) ?? (await livePlan(database.db));
  const pipeline = plan.pipelines.find((candidate) => candidate.id === id);
  if (id !== undefined && !pipeline)
    throw new Refusal(404, 'There is no such pipeline', `No pipeline is called ${id.slice(0, 100)}.`);
  const text = pipeline ? writePipeline(pipeline) : writePlan(plan);
  return new TextAnswer(text, 'application/yaml', pipeline ? `${pipeline.id}.yaml` : 'plan.yaml');
});

export const takePlanText = longCommand(operations.takePlanText, {
  subject: () => 'draft',
  record: ({ text }) => ({ characters: text.length }),
  carryOut: async ({ text, version }, services, _asking, record) => {
    // A text may take long to be read: no transaction waits for it.
    const read = await services.pools.planText({ text });
    if (!read) throw new Refusal(400, '', 'Reading the text took too long. Nothing was saved.');
    if (!read.ok) {
      const [first] = read.problems;
      const detail = first ? `line ${first.line}, column ${first.column}: ${first.message}` : 'The text is not a plan.';
      throw new Refusal(400, 'The text is not a plan', detail, { problems: read.problems });
    }
    await inTurn(() =>
      services.database.db.transaction(async (tx) => {
        await record(tx);
        const before = await lockedDraft(tx);
        await checkVersion(services, before, version);
        const { plan: current } = before ?? (await livePlan(tx));
        const written = 'plan' in read ? read.plan : withPipeline(current, read.pipeline);
        await keep(tx, await planWithoutSaved(tx, written), before, Date.now());
      }),
    );
    return await readDraftAnswer(services);
  },
});

/** A plan with a pipeline in the place of the one of its id, or as the last one. */
function withPipeline(plan: PlanDocument, pipeline: PipelineDocument): PlanDocument {
  return { ...plan, pipelines: [...plan.pipelines.filter(({ id }) => id !== pipeline.id), pipeline] };
}

export const rehearseDraft = longCommand(operations.rehearseDraft, {
  subject: () => 'draft',
  record: ({ span, surge }) => ({ span, ...(surge && { surge }) }),
  carryOut: async ({ span: text, surge }, services, { signal, progress }, record) => {
    const { database, pools, directory, costs, shapes, disk } = services;
    const current = await checkedDraft(database.db);
    if (!current) throw new Refusal(404, 'There is no draft', 'Change something first.');
    const { version } = current;
    const plan = rightPlan(current);
    const { plan: live } = await livePlan(database.db);
    const run = { database, pools, live, draft: plan, tables: directory.tables, fleets: directory.fleets, signal };
    const span = rehearsalSpan(text);
    const now = Date.now();
    const recent = await costs.reader.recentDays(now);
    const owners = Object.fromEntries(directory.sources.map(({ name, owner }) => [name, owner]));
    const lineOf = (shape: string): string => shapes.get(shape)?.sample ?? '';
    const readers = await eventReaders(services);
    const stored = await costs.reader.storedShares(now);
    const basis = {
      ...{ span: span.days, recent, owners, lineOf },
      readers: readers.map(({ kind, name }) => ({ kind, name })),
      failedTests: services.plan.failedTests(plan),
      plans: { live, draft: plan },
      surge: surge && { ...surge, condition: await withoutSaved(database.db, surge.condition) },
      room: { shareStored: (source: string, tier: string) => stored.of(source, tier), free: disk.free ?? null },
    };
    const result = await rehearseTape(run, progress, {
      ...{ from: now - span.tape, basis },
      readers: readers.map(({ condition }) => condition),
    });
    await inTurn(() =>
      database.db.transaction(async (tx) => {
        await record(tx);
        await saveRehearsal(tx, version, result);
      }),
    );
    return await withMonthOfMoney(services, result, { live, draft: plan });
  },
});

export const rebaseDraft = command(operations.rebaseDraft, {
  subject: () => 'draft',
  carryOut: async ({ choices }, { tx, now }) => {
    const before = await lockedDraft(tx);
    if (!before) throw new Refusal(404, 'There is no draft', 'There is nothing to update.');
    const live = await livePlan(tx);
    const base = await planOrFirst(tx, before.basedOn);
    const { merged, conflicts } = merge(base, before.plan, live.plan, choices);
    if (conflicts.length > 0) {
      const more: RebaseConflicts = { conflicts };
      const detail = 'The draft and later revisions change the same parts. Choose which side to keep.';
      throw new Refusal(409, 'Both changed the same', detail, more);
    }
    if (isSame(merged, live.plan)) await removeDraft(tx);
    else await store(tx, { plan: JSON.stringify(merged), basedOn: live.revision, changedAt: now, rehearsal: null });
    return null;
  },
  answerAfter: readDraftAnswer,
});

/** The part of a rehearsal's findings that is stored with the revision. */
function prediction({ moves, shapeMoves, changed: _, ...findings }: RehearsalFindings) {
  const isOfDays = findings.span > 0;
  return {
    ...findings,
    flows: flowsOfChange(flowsOfMoves(moves)),
    hours: isOfDays ? hourSpreads(moves) : [],
    shapeHours: isOfDays ? shapeSpreads(shapeMoves) : [],
  };
}

/** What a rehearsal of a day or more says that a plan saves in 30 days, where there are prices. */
async function promisedBy(
  services: OperationServices,
  rehearsal: RehearsalFindings,
  plans: RehearsedDocuments,
): Promise<{ readonly promised?: PromisedSaving }> {
  if (rehearsal.span === 0) return {};
  const { money } = await withMonthOfMoney(services, rehearsal, plans);
  if (!money) return {};
  return { promised: { coins: money.live - money.draft, band: money.bands.change, sign: money.currency.sign } };
}

export const publishDraft = longCommand(operations.publishDraft, {
  subject: ({ note }) => note,
  carryOut: async ({ note, letGo, version }, services, _asking, record) => {
    const { database } = services;
    const current = await checkedDraft(database.db);
    if (!current) throw new Refusal(404, 'There is no draft', 'There is nothing to publish.');
    if (version !== undefined && version !== current.version) {
      const detail = 'Someone else changed the draft meanwhile. Review it again before publishing.';
      throw new Refusal(409, 'The draft has changed', detail, { draft: await draftAnswer(services) });
    }
    if (note === '') throw new Refusal(400, 'A note is missing', 'Enter a note that says what the change is for.');
    const { basedOn, rehearsal } = current;
    const { live, behind, leaving } = await besideLivePlan(database, current);
    refuseBehind({ basedOn, behind });
    const plan = rightPlan(current);
    const unsaid = leaving.filter(({ tier }) => !letGo.includes(tier));
    if (unsaid.length > 0) {
      const names = unsaid.map(({ title }) => title).join(', ');
      const detail = `Stored events of ${names} would go. Name the tiers (their ids) in letGo when that is meant.`;
      // All of them: who names what a refusal tells is not refused by turns for what was left out.
      throw new Refusal(409, 'Stored events would be deleted', detail, { leaving });
    }
    const predicted =
      rehearsal?.form === findingsForm
        ? { ...prediction(rehearsal), ...(await promisedBy(services, rehearsal, { live, draft: plan })) }
        : null;
    const publication = { plan, note, predicted, basedOn, draftVersion: current.version, alongside: record };
    const answer = await inTurn(() => services.plan.publish(publication));
    if (answer.ok) return answer;
    if ('isStale' in answer) {
      const draft = await draftAnswer(services);
      if (draft) refuseBehind(draft);
      throw new Refusal(409, 'The draft has changed', 'It was changed or published just now.', { draft });
    }
    throw wrongDraft(answer.problems);
  },
});

/** Publishing a draft that does not stand on the live revision would undo what others published since. */
function refuseBehind({ behind, basedOn }: { readonly behind: readonly object[]; readonly basedOn: number }): void {
  if (behind.length === 0) return;
  const detail = `The draft began from revision ${basedOn}, and others have published since. Put it on the live revision first.`;
  throw new Refusal(409, 'The draft would undo later revisions', detail, { behind });
}

export const discardedDrafts = question(operations.discardedDrafts, async (_input, { database }) => {
  const drafts = await listDiscardedDrafts(database, Date.now());
  return {
    drafts: await Promise.all(
      drafts.map(async ({ id, discardedAt, basedOn, plan }) => ({
        id,
        discardedAt,
        // What others published since is no change of its.
        changes: diffPlans(await planOrFirst(database.db, basedOn), parsePlan(plan)),
      })),
    ),
  };
});

export const takeUpDraft = command(operations.takeUpDraft, {
  subject: () => 'draft',
  carryOut: async ({ id }, { tx, now }) => {
    if (!(await takeUp(tx, id, now)))
      throw new Refusal(404, 'The draft is gone', 'Discarded drafts can be restored for 24 hours.');
    return null;
  },
  answerAfter: readDraftAnswer,
});

export const restoreRevision = command(operations.restoreRevision, {
  subject: ({ number }) => `revision ${number}`,
  carryOut: async ({ number }, { tx, now }) => {
    const old = await planOfRevision(tx, number);
    if (!old) throw new Refusal(404, 'There is no such revision', 'Its number is not known.');
    const { revision } = await livePlan(tx);
    // A draft that is there can be taken up again.
    await discard(tx, now);
    await store(tx, { plan: JSON.stringify(old), basedOn: revision, changedAt: now, rehearsal: null });
    return null;
  },
  answerAfter: readDraftAnswer,
});
