import { type StepDocument, stepParts } from '../steps/step-document.ts';
import type { PlanDocument } from './document.ts';
import { namedSource } from './named-source.ts';

/** A mask step that a draft adds to what a source sends. */
export interface NewMask {
  readonly source: string;
  /** The pipeline's id, and the step's place in it, from 0. */
  readonly pipeline: string;
  readonly step: number;
  readonly options: Readonly<Record<string, unknown>>;
}

/**
 * The mask steps of a draft that are not in the live plan, of pipelines that name a source. They mask what follows them;
 * the tape and the rejects hold what came before, unless the source masks it.
 */
export function newMasks(live: PlanDocument, draft: PlanDocument): readonly NewMask[] {
  return draft.pipelines.flatMap(({ id, when, steps }) => {
    const source = namedSource(when);
    if (source === '') return [];
    const before = new Set(live.pipelines.find((pipeline) => pipeline.id === id)?.steps.map(written));
    return steps.flatMap((document, step) => {
      const { kind, options } = stepParts(document);
      return kind === 'mask' && !before.has(written(document)) ? [{ source, pipeline: id, step, options }] : [];
    });
  });
}

function written(step: StepDocument): string {
  return JSON.stringify(step);
}
