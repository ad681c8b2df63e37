import type { PipelineDocument } from '#core/plan/parts/pipelines/pipelines-shape.ts';
import { stepKinds } from '#core/steps/index.ts';
import { stepParts } from '#core/steps/step-document.ts';
import { Nothing, Section } from '../../kit/section.tsx';
import { Select } from '../../kit/select.tsx';
import { isPlaceholder, templatesOf, withTemplate } from './extract-templates.ts';
import { Proposals } from './proposals.tsx';
import { SampleLines } from './sample/sample-lines.tsx';
import { StepTrail } from './sample/step-trail.tsx';
import type { PipelineSample } from './sample/use-pipeline-sample.ts';
import { StepEditor } from './step-editor.tsx';
import type { PipelineEditor } from './use-pipeline-editor.ts';

interface StepPaneProps {
  readonly editor: PipelineEditor;
  readonly pipeline: PipelineDocument;
  readonly trial: PipelineSample;
  readonly isExtract: boolean;
}

/** The step that is open, what is proposed for it, and what it makes of the sample. */
export function StepPane(props: StepPaneProps) {
  const { editor, pipeline, trial, isExtract } = props;
  const { step, setStep } = editor;
  const { tape, sample, proposals } = trial;
  const { source } = tape;
  const current = pipeline.steps[step - 1];
  return (
    <div className="min-w-0 flex-1">
      {current ? (
        <Section title={`Step ${step} · ${stepKinds.get(stepParts(current).kind)?.title ?? 'unknown'}`}>
          <StepEditor
            key={step}
            step={current}
            source={source}
            onChange={setStep}
            onRemove={() => editor.setSteps(pipeline.steps.filter((_, i) => i !== step - 1))}
          />
        </Section>
      ) : (
        <Nothing title="This pipeline has no steps yet.">
          <p>Add one on the left.</p>
        </Nothing>
      )}
      {isExtract && current && sample && (
        <Proposals
          proposals={proposals}
          isFirst={templatesOf(current).every(isPlaceholder)}
          onUse={(template) => setStep(withTemplate(current, template, false))}
          onReplace={(kind) => setStep({ [kind]: { from: stepParts(current).options.from ?? 'body' } })}
        />
      )}
      <Sample {...props} />
    </div>
  );
}

/** The lines of the sample, with the one that is traced. */
function Sample({ editor, pipeline, trial, isExtract }: StepPaneProps) {
  const { tape, sample, followed, follow } = trial;
  const current = pipeline.steps[editor.step - 1];
  return (
    <>
      {tape.source === '' && <Nothing title="No source matches the entry condition, so there is no sample." />}
      {tape.sources.length > 1 && (
        <Select
          label="Lines of"
          value={tape.source}
          options={tape.sources.map((name) => ({ value: name, title: name }))}
          onChange={(name) => {
            tape.choose(name);
            follow(0);
          }}
          className="mt-4"
        />
      )}
      {sample && (
        <SampleLines
          key={trial.pasted === '' ? 'tape' : 'pasted'}
          sample={sample}
          showFit={isExtract}
          followed={followed}
          onFollow={follow}
          onMarked={trial.keep}
          knownField={editor.makerOf}
          onLearnt={(template, again) => {
            if (isExtract && current) editor.setStep(withTemplate(current, template, again));
          }}
        />
      )}
      <label className="mt-3 block">
        <span className="block text-[12.5px] font-semibold text-second">Or paste a line to trace</span>
        <textarea
          value={trial.pasted}
          onChange={(event) => trial.paste(event.target.value)}
          className="line mt-1 h-10 w-full rounded-[5px] border border-hair bg-sheet p-2"
        />
      </label>
      {sample && sample.trail.length > 0 && <StepTrail trail={sample.trail} steps={pipeline.steps} />}
    </>
  );
}
