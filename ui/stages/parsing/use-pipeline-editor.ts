'use client';

import { useRouter } from 'next/navigation';
import { parseAsInteger, useQueryState } from 'nuqs';
import { useEffect, useMemo, useState } from 'react';
import type { PlanDocument } from '#core/plan/document.ts';
import { fieldUses } from '#core/plan/field-uses.ts';
import { freeId } from '#core/plan/free-id.ts';
import type { PipelineDocument } from '#core/plan/parts/pipelines/pipelines-shape.ts';
import type { StepDocument } from '#core/steps/step-document.ts';
import { useDraft, withPipeline } from '../../data/draft.ts';

/** A pipeline that is being edited: what is typed is shown at once, and is in the draft once typing rests. */
export interface PipelineEditor {
  /** Undefined until it has been read. */
  readonly plan: PlanDocument | undefined;
  /** Undefined where the plan has no such pipeline. */
  readonly pipeline: PipelineDocument | undefined;
  /** The pipeline as it is live; undefined for a new one. */
  readonly live: PipelineDocument | undefined;
  /** The step that is open, counted from 1. */
  readonly step: number;
  readonly openStep: (step: number) => void;
  readonly edit: (next: PipelineDocument) => void;
  readonly setSteps: (steps: readonly StepDocument[]) => void;
  readonly setStep: (next: StepDocument) => void;
  /** Gives a new pipeline the id that follows from its title. */
  readonly nameByTitle: () => Promise<void>;
  readonly remove: () => Promise<void>;
  /** Which other step makes a field, in words. */
  readonly makerOf: (field: string) => string | undefined;
}

/** Edits a pipeline of the draft. */
export function usePipelineEditor(id: string): PipelineEditor {
  const { plan, live, change, changeTyped, settle } = useDraft();
  const [edited, setEdited] = useState<PipelineDocument | undefined>();
  const [step, openStep] = useQueryState('step', parseAsInteger.withDefault(1));
  const router = useRouter();
  const pipeline = edited ?? plan?.pipelines.find((one) => one.id === id);
  useEffect(() => {
    if (!edited) return;
    changeTyped(`pipelines/${id}`, (before) => withPipeline(before, id, () => edited)).then(
      () => setEdited((current) => (current === edited ? undefined : current)),
      () => {
        // What was typed stays on the screen; why it is not in the draft has been said.
      },
    );
  }, [edited, changeTyped, id]);
  useEffect(() => () => void settle().catch(() => {}), [settle]);
  const makers = useMemo(() => (plan ? fieldUses(plan).makers : []), [plan]);
  const livePipeline = live?.pipelines.find((other) => other.id === id);
  const setSteps = (steps: readonly StepDocument[]): void => {
    if (pipeline) setEdited({ ...pipeline, steps });
  };
  return {
    ...{ plan, pipeline, live: livePipeline, step, edit: setEdited, setSteps },
    openStep: (n) => void openStep(n),
    setStep: (next) => setSteps(pipeline?.steps.map((old, i) => (i === step - 1 ? next : old)) ?? []),
    nameByTitle: async () => {
      // Rules and failures refer to pipelines by their ids.
      const isNew = /^new-pipeline(-\d+)?$/.test(id) && !livePipeline;
      if (!pipeline || !isNew || pipeline.title.trim() === '' || pipeline.title === 'New pipeline') return;
      await settle();
      let named = id;
      await change((before) => {
        const others = before.pipelines.filter((other) => other.id !== id).map((other) => other.id);
        named = freeId(pipeline.title, others);
        return withPipeline(before, id, (one) => ({ ...one, title: pipeline.title, id: named }));
      });
      setEdited(undefined);
      router.replace(`/parsing/${named}`);
    },
    remove: async () => {
      await change((before) => ({ ...before, pipelines: before.pipelines.filter((other) => other.id !== id) }));
      router.push('/parsing');
    },
    makerOf: (field) =>
      makers.find((maker) => maker.field === field && !(maker.pipeline === id && maker.step === step))?.title,
  };
}
