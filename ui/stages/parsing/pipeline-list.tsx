'use client';

import { arrayMove } from '@dnd-kit/sortable';
import { ArrowDown, ArrowUp } from 'lucide-react';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useQueryState } from 'nuqs';
import type { ReactNode } from 'react';
import { formatCount } from '#core/events/units.ts';
import { describeStep } from '#core/plan/parts/pipelines/describe-step.ts';
import type { PipelineDocument } from '#core/plan/parts/pipelines/pipelines-shape.ts';
import { addPipeline, useDraft } from '../../data/draft.ts';
import { Button } from '../../kit/button.tsx';
import { OrderedItem, OrderedList } from '../../kit/ordered-list.tsx';
import { Nothing, Section } from '../../kit/section.tsx';
import { ParsingStill } from '../../kit/still-pictures.tsx';
import { type FailureCount, useFailures } from './use-failures.ts';

/** The pipelines in the order in which they run, and what did not fit lately. */
export function PipelineList() {
  const { plan, live, draft, change } = useDraft();
  const failures = useFailures();
  const [source] = useQueryState('source');
  const router = useRouter();
  const add = async (): Promise<void> => {
    const id = await addPipeline(change, {
      id: source ?? 'new-pipeline',
      title: source ? `Lines of ${source}` : 'New pipeline',
      when: source ? `source = ${source}` : 'source = ',
      steps: source ? [{ extract: { from: 'body', template: '' } }] : [],
    });
    router.push(`/parsing/${id}`);
  };
  const move = (from: number, to: number): Promise<void> =>
    change((before) => ({ ...before, pipelines: arrayMove([...before.pipelines], from, to) }));
  const liveOf = ({ id }: PipelineDocument) => live?.pipelines.find((other) => other.id === id);
  return (
    <div className="flex gap-6">
      <Section
        title="Pipelines, in order"
        className="min-w-0 flex-1"
        aside={
          plan?.pipelines.length !== 0 && (
            <Button onClick={() => void add()}>{source ? `Add pipeline for ${source}` : 'Add pipeline'}</Button>
          )
        }
      >
        {plan?.pipelines.length === 0 && (
          <Nothing title="No pipelines yet: lines are kept as they arrive." picture={<ParsingStill />}>
            <p className="mt-1 max-w-[560px]">
              A pipeline takes the pieces of a line apart, so that they can be searched, counted and priced as fields.
              You point at them in real lines, or take what is proposed.
            </p>
            <div className="mt-3">
              <Button look="main" onClick={() => void add()}>
                {source ? `Add pipeline for ${source}` : 'Add the first pipeline'}
              </Button>
            </div>
          </Nothing>
        )}
        <OrderedList items={plan?.pipelines ?? []} onMove={move}>
          {(pipeline, index) => (
            <PipelineRow
              key={pipeline.id}
              pipeline={pipeline}
              number={index + 1}
              isLast={index === (plan?.pipelines.length ?? 0) - 1}
              isChanged={draft !== undefined && JSON.stringify(liveOf(pipeline)) !== JSON.stringify(pipeline)}
              isForSource={source !== null && pipeline.when.includes(source)}
              failed={failedIn(failures, pipeline.id)}
              onMove={(by) => void move(index, index + by)}
            />
          )}
        </OrderedList>
      </Section>
      <Failures failures={failures} titleOf={(id) => plan?.pipelines.find((one) => one.id === id)?.title} />
    </div>
  );
}

/** How many events a pipeline's steps could not handle lately. */
function failedIn(failures: readonly FailureCount[], pipeline: string): number {
  return failures.filter(({ rule }) => rule.startsWith(`${pipeline}/`)).reduce((sum, { count }) => sum + count, 0);
}

/** A pipeline in its place, which can be changed. */
function PipelineRow(props: {
  readonly pipeline: PipelineDocument;
  /** Its place, counted from 1. */
  readonly number: number;
  readonly isLast: boolean;
  readonly isChanged: boolean;
  readonly isForSource: boolean;
  readonly failed: number;
  readonly onMove: (by: number) => void;
}) {
  const { pipeline, number, isChanged, failed, onMove } = props;
  const { id, title, when, steps } = pipeline;
  const look = props.isForSource ? 'bg-land' : isChanged ? 'bg-mark-wash' : '';
  return (
    <OrderedItem id={id} title={title} className={`flex items-center border-t border-hair last:border-b ${look}`}>
      {(grip) => (
        <>
          <Link
            href={`/parsing/${id}`}
            className="grid min-w-0 flex-1 grid-cols-[28px_1fr_auto] gap-2 px-2 py-2.5 hover:bg-land/50"
          >
            <span className="text-second">{number}</span>
            <span className="min-w-0">
              <b className="font-[650]">{title}</b> <span className="line ml-2 text-second">{when}</span>
              <small className="block truncate text-[12px] text-second">
                {steps.map(describeStep).join(' · ') || 'no steps yet'}
              </small>
            </span>
            <span className="text-right">
              {failed > 0 && (
                <span className="font-semibold text-caution">
                  ▲ {formatCount(failed)} <span className="font-normal text-second">failed in the last 3 h</span>
                </span>
              )}
              {isChanged && <span className="ml-3 text-mark">in draft</span>}
            </span>
          </Link>
          <span className="flex shrink-0">
            {grip}
            <MoveButton label={`Run ${title} earlier`} disabled={number === 1} onClick={() => onMove(-1)}>
              <ArrowUp size={15} aria-hidden="true" />
            </MoveButton>
            <MoveButton label={`Run ${title} later`} disabled={props.isLast} onClick={() => onMove(1)}>
              <ArrowDown size={15} aria-hidden="true" />
            </MoveButton>
          </span>
        </>
      )}
    </OrderedItem>
  );
}

function MoveButton(props: {
  readonly label: string;
  readonly disabled: boolean;
  readonly onClick: () => void;
  readonly children: ReactNode;
}) {
  return (
    <button
      type="button"
      disabled={props.disabled}
      onClick={props.onClick}
      className="size-6 text-second hover:text-mark disabled:opacity-30"
      aria-label={props.label}
    >
      {props.children}
    </button>
  );
}

/** What steps could not handle in the last hours, by step and reason. */
function Failures(props: {
  readonly failures: readonly FailureCount[];
  readonly titleOf: (pipeline: string) => string | undefined;
}) {
  const { failures, titleOf } = props;
  return (
    <Section title="Events that failed · last 3 h" className="w-[330px] shrink-0">
      {failures.length === 0 && <p className="border-y border-hair py-3 text-second">No line failed in that time.</p>}
      <ul>
        {failures.map(({ rule, reason, count }) => (
          <li key={rule + reason} className="border-t border-hair last:border-b">
            <Link
              href={`/parsing/${rule.split('/')[0]}?step=${Number.parseInt(rule.split('/')[1] ?? '1', 10)}`}
              className="flex justify-between gap-3 py-2 hover:bg-land/40"
            >
              <span>
                {reason}
                <small className="block text-[12px] text-second">
                  step {rule.split('/')[1]} of {titleOf(rule.split('/')[0] ?? '') ?? rule}
                </small>
              </span>
              <b className="font-semibold">{formatCount(count)}</b>
            </Link>
          </li>
        ))}
      </ul>
    </Section>
  );
}
