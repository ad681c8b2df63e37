'use client';

import { arrayMove } from '@dnd-kit/sortable';
import { describeStep } from '#core/plan/parts/pipelines/describe-step.ts';
import type { PipelineDocument } from '#core/plan/parts/pipelines/pipelines-shape.ts';
import { stepKinds } from '#core/steps/index.ts';
import type { StepDocument } from '#core/steps/step-document.ts';
import { useQuestion } from '../../data/client.ts';
import { Button } from '../../kit/button.tsx';
import { OrderedItem, OrderedList } from '../../kit/ordered-list.tsx';
import { Section } from '../../kit/section.tsx';
import { Select } from '../../kit/select.tsx';
import { stepForms } from './step-forms.ts';
import { StepMeasureLine } from './step-measure-line.tsx';

/** The steps of a pipeline in their order; one of them is chosen to be edited beside it. */
export function StepList(props: {
  readonly pipeline: PipelineDocument;
  readonly live: PipelineDocument | undefined;
  readonly step: number;
  readonly onChoose: (step: number) => void;
  readonly onChange: (steps: readonly StepDocument[]) => void;
}) {
  const { steps } = props.pipeline;
  const { data: measured } = useQuestion('steps', {}, 5_000);
  const move = (from: number, to: number): void => {
    props.onChange(arrayMove([...steps], from, to));
    props.onChoose(to + 1);
  };
  return (
    <Section title="Steps" className="mt-4">
      <OrderedList items={steps.map((step, index) => ({ id: String(index + 1), step }))} onMove={move}>
        {({ id, step }, index) => {
          const isOpen = index === props.step - 1;
          const fresh = !props.live?.steps.some((old) => JSON.stringify(old) === JSON.stringify(step));
          return (
            <OrderedItem
              key={id}
              id={id}
              title={`step ${id}`}
              className={`border-t border-hair ${isOpen ? 'bg-land shadow-[inset_2px_0_0_var(--mark)]' : fresh ? 'bg-mark-wash' : ''}`}
            >
              {(grip) => (
                <>
                  <div className="flex items-start">
                    <button
                      type="button"
                      onClick={() => props.onChoose(index + 1)}
                      className="flex min-w-0 flex-1 gap-3 px-3 py-2 text-left"
                    >
                      <span className="text-second">{index + 1}</span>
                      <span>
                        {describeStep(step)}
                        {fresh && <span className="ml-2 text-[12px] text-mark">in draft</span>}
                        {!fresh && <StepMeasureLine measured={measured} rule={`${props.pipeline.id}/${index + 1}`} />}
                      </span>
                    </button>
                    <span className="pt-1.5">{grip}</span>
                  </div>
                  {isOpen && (
                    <div className="flex items-center gap-1 px-2 pb-1.5 text-[12.5px]">
                      <Button look="quiet" disabled={index === 0} onClick={() => move(index, index - 1)}>
                        Up
                      </Button>
                      <Button look="quiet" disabled={index === steps.length - 1} onClick={() => move(index, index + 1)}>
                        Down
                      </Button>
                      <Button look="quiet" onClick={() => props.onChange(steps.filter((_, i) => i !== index))}>
                        Remove
                      </Button>
                    </div>
                  )}
                </>
              )}
            </OrderedItem>
          );
        }}
      </OrderedList>
      <Select
        label="Add step"
        isLabelHidden
        placeholder="Add step …"
        value=""
        options={[...stepKinds.values()].map(({ kind, title }) => ({ value: kind, title }))}
        onChange={(kind) => {
          props.onChange([...steps, { [kind]: stepForms[kind]?.initial ?? {} }]);
          props.onChoose(steps.length + 1);
        }}
        className="border-t border-hair px-3 py-2"
      />
    </Section>
  );
}
