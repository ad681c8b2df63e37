import type { PipelineDocument } from '#core/plan/parts/pipelines/pipelines-shape.ts';
import { addressOf } from '../../data/client.ts';
import { ConditionEditor } from '../../editors/condition-editor.tsx';
import { Button } from '../../kit/button.tsx';
import { Section } from '../../kit/section.tsx';
import { TextField } from '../../kit/text-field.tsx';
import { PipelineTests } from './pipeline-tests.tsx';
import type { PipelineSample } from './sample/use-pipeline-sample.ts';
import { StepList } from './step-list.tsx';
import type { PipelineEditor } from './use-pipeline-editor.ts';

/** What a pipeline is called, which events enter, its steps, and its tests. */
export function PipelineSide(props: {
  readonly editor: PipelineEditor;
  readonly pipeline: PipelineDocument;
  readonly trial: PipelineSample;
}) {
  const { editor, pipeline, trial } = props;
  const { edit } = editor;
  return (
    <div className="w-[288px] shrink-0">
      <TextField
        label="Title"
        value={pipeline.title}
        onChange={(event) => edit({ ...pipeline, title: event.target.value })}
        onBlur={() => void editor.nameByTitle()}
        className="mb-3"
      />
      <Section title="Entered by">
        <ConditionEditor
          isRaw
          label="Which events enter"
          value={pipeline.when}
          fields={[]}
          onChange={(when) => when !== pipeline.when && edit({ ...pipeline, when })}
        />
      </Section>
      <StepList
        pipeline={pipeline}
        live={editor.live}
        step={editor.step}
        onChoose={editor.openStep}
        onChange={editor.setSteps}
      />
      <PipelineTests
        pipeline={pipeline}
        line={trial.sample?.line}
        event={trial.sample?.trail.at(-1)?.event}
        outcomes={trial.answer?.tests ?? []}
        onChange={(tests) => edit({ ...pipeline, tests })}
      />
      <div className="mt-6 -ml-3 flex flex-col items-start">
        <a
          href={addressOf('planText', { pipeline: pipeline.id })}
          download
          className="px-3 py-1 font-semibold text-mark hover:underline"
        >
          Export as YAML
        </a>
        <Button look="danger" onClick={() => void editor.remove()}>
          Remove pipeline
        </Button>
      </div>
    </div>
  );
}
