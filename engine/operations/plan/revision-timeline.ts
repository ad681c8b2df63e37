import type { RevisionTimelineAnswer } from '#core/answers/plan.ts';
import { operations } from '#core/operations/index.ts';
import { findRevision, plansAfter } from '#store/plan/plans.ts';
import { notedPrediction } from '../../plan/noted-prediction.ts';
import { nothingYet, type ShapeNames, timelineOf } from '../../plan/revision-timeline.ts';
import { question } from '../handler.ts';
import { Refusal } from '../refusal.ts';
import type { OperationServices } from '../services.ts';

export const revisionTimeline = question(
  operations.revisionTimeline,
  async ({ number }, { database, shapes }): Promise<RevisionTimelineAnswer> => {
    const revision = await findRevision(database.db, number);
    if (!revision) throw new Refusal(404, 'There is no such revision', `No revision has the number ${number}.`);
    const [next] = await plansAfter(database.db, number, 1);
    const predicted = notedPrediction(revision.predicted);
    const until = next?.publishedAt ?? Date.now();
    return predicted
      ? await timelineOf({ database, shapes: namesOf(shapes) }, predicted, revision.publishedAt, until)
      : nothingYet;
  },
);

function namesOf(shapes: OperationServices['shapes']): ShapeNames {
  return {
    current: shapes.known.current,
    idsOf: (id) => shapes.idsOf(id),
    lineOf: (id) => shapes.get(id)?.sample ?? '',
  };
}
