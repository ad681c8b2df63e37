'use client';

import { Check, X } from 'lucide-react';
import { useState } from 'react';
import type { EventRecord } from '#core/events/batch.ts';
import { fieldsOf } from '#core/plan/event-fields.ts';
import type { PipelineDocument, PipelineTest } from '#core/plan/parts/pipelines/pipelines-shape.ts';
import type { TestOutcome } from '#core/plan/run-tests.ts';
import { Button } from '../../kit/button.tsx';
import { Section } from '../../kit/section.tsx';

/** Samples kept as tests of the pipeline: they run at every publish and block it when they fail. */
export function PipelineTests(props: {
  readonly pipeline: PipelineDocument;
  /** The line that is followed, and what came of it after all steps. */
  readonly line: string | undefined;
  readonly event: EventRecord | undefined;
  /** What became of the tests, in their order; fewer while that is being found out. */
  readonly outcomes: readonly TestOutcome[];
  readonly onChange: (tests: readonly PipelineTest[]) => void;
}) {
  const { pipeline, line, event, outcomes } = props;
  const [open, setOpen] = useState<string | undefined>();
  const tests = pipeline.tests ?? [];
  const keep = (): void => {
    if (line === undefined || !event) return;
    const { time: _, emitter: __, ...fields } = fieldsOf(event);
    const name = `sample ${tests.length + 1}`;
    props.onChange([...tests, { name, input: line, arrived: new Date().toISOString(), expect: fields }]);
  };
  return (
    <Section title="Tests" className="mt-5">
      <ul>
        {tests.map((test, index) => {
          const outcome = outcomes[index]?.name === test.name ? outcomes[index] : undefined;
          return (
            <li key={`${index} ${test.name}`} className="border-t border-hair py-1">
              <div className="flex items-center gap-2">
                <button
                  type="button"
                  className="flex-1 text-left"
                  onClick={() => setOpen(open === test.name ? undefined : test.name)}
                >
                  <Verdict outcome={outcome} />
                  {test.name}
                  {outcome && <span className="sr-only">{outcome.passed ? ' passes' : ' fails'}</span>}
                </button>
                <Button
                  look="quiet"
                  className="px-1!"
                  onClick={() => props.onChange(tests.filter((_, i) => i !== index))}
                >
                  Remove
                </Button>
              </div>
              {(open === test.name || outcome?.passed === false) && outcome && <Outcome outcome={outcome} />}
            </li>
          );
        })}
      </ul>
      <div className="border-t border-hair pt-1">
        {tests.length === 0 && (
          <p className="text-[12.5px] text-second">A line kept as a test is checked before every publish.</p>
        )}
        <Button look="quiet" className="-ml-3" disabled={!event} onClick={keep}>
          Add traced line as test
        </Button>
      </div>
    </Section>
  );
}

function Verdict({ outcome }: { readonly outcome: TestOutcome | undefined }) {
  if (!outcome) return <span className="text-second">… </span>;
  return outcome.passed ? (
    <span className="text-well">
      <Check size={14} aria-hidden="true" className="inline" />{' '}
    </span>
  ) : (
    <span className="text-danger">
      <X size={14} aria-hidden="true" className="inline" />{' '}
    </span>
  );
}

function Outcome({ outcome }: { readonly outcome: TestOutcome }) {
  if (outcome.problem) return <p className="text-[12px] text-danger">{outcome.problem}</p>;
  const wrong = outcome.fields.filter(({ expected, actual }) => expected !== actual);
  return (
    <ul className="line text-[12px]">
      {(wrong.length > 0 ? wrong : outcome.fields).map(({ field, expected, actual }) => (
        <li key={field} className={expected === actual ? 'text-second' : 'text-danger'}>
          {field}: {String(actual ?? 'absent')}
          {expected !== actual && `, expected ${String(expected ?? 'absent')}`}
        </li>
      ))}
    </ul>
  );
}
