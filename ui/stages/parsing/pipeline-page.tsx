'use client';

import { formatCount } from '#core/events/units.ts';
import type { PipelineDocument } from '#core/plan/parts/pipelines/pipelines-shape.ts';
import { stepParts } from '#core/steps/step-document.ts';
import { Figure, FigurePending } from '../../kit/figure.tsx';
import { Nothing } from '../../kit/section.tsx';
import { Sentence } from '../../kit/sentence.tsx';
import { percent } from '../../kit/times/times.ts';
import { PipelineSide } from './pipeline-side.tsx';
import { usePipelineSample } from './sample/use-pipeline-sample.ts';
import { StepPane } from './step-pane.tsx';
import { usePipelineEditor } from './use-pipeline-editor.ts';

/** One pipeline: its steps, the editor of one of them, what it makes of sample lines from the tape, and its tests. */
export function PipelinePage({ id }: { readonly id: string }) {
  const editor = usePipelineEditor(id);
  const { plan, pipeline, step } = editor;
  const trial = usePipelineSample(pipeline, id, step);
  if (!plan) return <main className="px-6 pb-24" />;
  if (!pipeline) {
    return (
      <main className="px-6 pb-24">
        <Nothing title="This pipeline does not exist." />
      </main>
    );
  }
  const current = pipeline.steps[step - 1];
  const isExtract = current !== undefined && stepParts(current).kind === 'extract';
  return (
    <main className="px-6 pb-24">
      <PipelineSentence pipeline={pipeline} isExtract={isExtract} sample={trial.sample} />
      <div className="mt-4 flex gap-6">
        <PipelineSide editor={editor} pipeline={pipeline} trial={trial} />
        <StepPane editor={editor} pipeline={pipeline} trial={trial} isExtract={isExtract} />
      </div>
    </main>
  );
}

function PipelineSentence(props: {
  readonly pipeline: PipelineDocument;
  readonly isExtract: boolean;
  readonly sample: { readonly entered: number; readonly fitted: number } | undefined;
}) {
  const { pipeline, isExtract, sample } = props;
  if (!sample) {
    return (
      <Sentence>
        <b>{pipeline.title}</b>: <FigurePending /> taped lines.
      </Sentence>
    );
  }
  const share = sample.entered > 0 ? sample.fitted / sample.entered : 0;
  const of = { of: `pipeline ${pipeline.id}` };
  return (
    <Sentence>
      <b>{pipeline.title}</b> runs on{' '}
      <Figure name="lines of the sample" {...of} over="the sample" unit="lines" value={sample.entered}>
        {formatCount(sample.entered)}
      </Figure>{' '}
      lines of the sample
      {isExtract && (
        <>
          ;{' '}
          <Figure
            name="fitting lines"
            {...of}
            over="the sample"
            unit="share of lines"
            value={share}
            needs={share < 0.99}
          >
            {percent(share)}
          </Figure>{' '}
          of them fit this step
        </>
      )}
      .
    </Sentence>
  );
}
