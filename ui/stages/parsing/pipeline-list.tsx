'use client';

import { arrayMove } from '@dnd-kit/sortable';
import { ArrowDown, ArrowUp } from 'lucide-react';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useQueryState } from 'nuqs';
import { formatCount } from '#core/events/units.ts';
import { describeStep } from '#core/plan/parts/pipelines/describe-step.ts';
import { addPipeline, useDraft } from '../../data/draft.ts';
import { Button } from '../../kit/button.tsx';
import { OrderedItem, OrderedList } from '../../kit/ordered-list.tsx';
import { Nothing, Section } from '../../kit/section.tsx';
import { ParsingStill } from '../../kit/still-pictures.tsx';
import { useFailures } from './use-failures.ts';

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
          {(pipeline, index) => {
            const before = live?.pipelines.find((other) => other.id === pipeline.id);
            const changed = draft && JSON.stringify(before) !== JSON.stringify(pipeline);
            const failed = failures
              .filter(({ rule }) => rule.startsWith(`${pipeline.id}/`))
              .reduce((sum, { count }) => sum + count, 0);
            const isForSource = source !== null && pipeline.when.includes(source);
            return (
              <OrderedItem
                key={pipeline.id}
                id={pipeline.id}
                title={pipeline.title}
                className={`flex items-center border-t border-hair last:border-b ${isForSource ? 'bg-land' : changed ? 'bg-mark-wash' : ''}`}
              >
                {(grip) => (
                  <>
                    <Link
                      href={`/parsing/${pipeline.id}`}
                      className="grid min-w-0 flex-1 grid-cols-[28px_1fr_auto] gap-2 px-2 py-2.5 hover:bg-land/50"
                    >
                      <span className="text-second">{index + 1}</span>
                      <span className="min-w-0">
                        <b className="font-[650]">{pipeline.title}</b>{' '}
                        <span className="line ml-2 text-second">{pipeline.when}</span>
                        <small className="block truncate text-[12px] text-second">
                          {pipeline.steps.map(describeStep).join(' · ') || 'no steps yet'}
                        </small>
                      </span>
                      <span className="text-right">
                        {failed > 0 && (
                          <span className="font-semibold text-caution">
                            ▲ {formatCount(failed)}{' '}
                            <span className="font-normal text-second">failed in the last 3 h</span>
                          </span>
                        )}
                        {changed && <span className="ml-3 text-mark">in draft</span>}
                      </span>
                    </Link>
                    <span className="flex shrink-0">
                      {grip}
                      <button
                        type="button"
                        disabled={index === 0}
                        onClick={() => void move(index, index - 1)}
                        className="size-6 text-second hover:text-mark disabled:opacity-30"
                        aria-label={`Run ${pipeline.title} earlier`}
                      >
                        <ArrowUp size={15} aria-hidden="true" />
                      </button>
                      <button
                        type="button"
                        disabled={index === (plan?.pipelines.length ?? 0) - 1}
                        onClick={() => void move(index, index + 1)}
                        className="size-6 text-second hover:text-mark disabled:opacity-30"
                        aria-label={`Run ${pipeline.title} later`}
                      >
                        <ArrowDown size={15} aria-hidden="true" />
                      </button>
                    </span>
                  </>
                )}
              </OrderedItem>
            );
          }}
        </OrderedList>
      </Section>
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
                    step {rule.split('/')[1]} of{' '}
                    {plan?.pipelines.find(({ id }) => id === rule.split('/')[0])?.title ?? rule}
                  </small>
                </span>
                <b className="font-semibold">{formatCount(count)}</b>
              </Link>
            </li>
          ))}
        </ul>
      </Section>
    </div>
  );
}
