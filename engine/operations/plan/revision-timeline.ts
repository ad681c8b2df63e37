import type { RevisionTimelineAnswer } from '#core/answers/plan.ts';
import { operations } from '#core/operations/index.ts';
import { findRevision, plansAfter } from '#store/plan/plans.ts';
import { notedPrediction } from '../../plan/noted-prediction.ts';
import { nothingYet, timelineOf } from '../../plan/revision-timeline.ts';
import { question } from '../handler.ts';
import { Refusal } from '../refusal.ts';

export const revisionTimeline = question(
  operations.revisionTimeline,
  async ({ number }, services): Promise<RevisionTimelineAnswer> => {
    const revision = await findRevision(services.database.db, number);
    if (!revision) throw new Refusal(404, 'There is no such revision', `No revision has the number ${number}.`);
    const [next] = await plansAfter(services.database.db, number, 1);
    const predicted = notedPrediction(revision.predicted);
    const until = next?.publishedAt ?? Date.now();
    return predicted ? await timelineOf(services, predicted, revision.publishedAt, until) : nothingYet;
  },
);
