'use client';

import { useRouter } from 'next/navigation';
import { parseAsInteger, useQueryState } from 'nuqs';
import { useEffect, useMemo, useState } from 'react';
import { formatCount } from '#core/events/units.ts';
import { fieldUses } from '#core/plan/field-uses.ts';
import type { PipelineDocument } from '#core/plan/parts/pipelines/pipelines-shape.ts';
import { stepKinds } from '#core/steps/index.ts';
import { type StepDocument, stepDocument, stepParts } from '#core/steps/step-document.ts';
import { addressOf } from '../../data/client.ts';
import { freeId, useDraft, withPipeline } from '../../data/draft.ts';
import { useTables } from '../../data/tables.ts';
import { ConditionEditor } from '../../editors/condition-editor.tsx';
import { Button } from '../../kit/button.tsx';
import { Figure, FigurePending } from '../../kit/figure.tsx';
import { Nothing, Section } from '../../kit/section.tsx';
import { Select } from '../../kit/select.tsx';
import { Sentence } from '../../kit/sentence.tsx';
import { TextField } from '../../kit/text-field.tsx';
import { percent } from '../../kit/times/times.ts';
import { PipelineTests } from './pipeline-tests.tsx';
import { Proposals } from './proposals.tsx';
import { SampleLines } from './sample-lines.tsx';
import { StepEditor } from './step-editor.tsx';
import { StepList } from './step-list.tsx';
import { StepTrail } from './step-trail.tsx';
import { useFailingLines } from './use-failing-lines.ts';
import { useSample } from './use-sample.ts';
import { useTape } from './use-tape.ts';

/** One pipeline: its steps, the editor of one of them, what it makes of sample lines from the tape, and its tests. */
export function PipelinePage({ id }: { readonly id: string }) {
  const { plan, live, change, changeTyped, settle } = useDraft();
  const stored = plan?.pipelines.find((pipeline) => pipeline.id === id);
  const [edited, setEdited] = useState<PipelineDocument | undefined>();
  const [step, setStep] = useQueryState('step', parseAsInteger.withDefault(1));
  const [followed, setFollowed] = useState(0);
  const [pasted, setPasted] = useState('');
  const tables = useTables();
  const router = useRouter();
  const pipeline = edited ?? stored;
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
  const tape = useTape(pipeline?.when ?? '');
  const { source } = tape;
  const failing = useFailingLines(source, `${id}/${step}`);
  const first = pasted === '' ? 0 : 1;
  const lines = useMemo(
    () => [...(pasted === '' ? [] : [pasted]), ...(tape.lines ?? []), ...failing],
    [tape.lines, failing, pasted],
  );
  const request = useMemo(() => {
    const counted = { from: first, to: lines.length - failing.length };
    return pipeline && { source, lines, counted, pipeline, step: step - 1, followed };
  }, [pipeline, lines, first, failing, source, step, followed]);
  const { answer, proposals = [] } = useSample(request, tables);
  const sample = lines.length > 0 ? answer : undefined;
  const { skip } = tape;
  const told = answer?.source === source && answer.tried === lines.length;
  const noneEnters = tape.lines !== undefined && pasted === '' && told && answer.entered === 0;
  useEffect(() => {
    if (noneEnters) skip(source);
  }, [noneEnters, skip, source]);
  const makers = useMemo(() => (plan ? fieldUses(plan).makers : []), [plan]);
  if (!plan) return <main className="px-6 pb-24" />;
  if (!pipeline) {
    return (
      <main className="px-6 pb-24">
        <Nothing title="This pipeline does not exist." />
      </main>
    );
  }
  // A new pipeline gets its id from its title, because rules and failures refer to pipelines by id.
  const nameByTitle = async (): Promise<void> => {
    const isNew = /^new-pipeline(-\d+)?$/.test(id) && !live?.pipelines.some((other) => other.id === id);
    if (!isNew || pipeline.title.trim() === '' || pipeline.title === 'New pipeline') return;
    await settle();
    let named = id;
    await change((before) => {
      const others = before.pipelines.filter((other) => other.id !== id).map((other) => other.id);
      named = freeId(pipeline.title, others);
      return withPipeline(before, id, (one) => ({ ...one, title: pipeline.title, id: named }));
    });
    setEdited(undefined);
    router.replace(`/parsing/${named}`);
  };
  const current = pipeline.steps[step - 1];
  const setSteps = (steps: readonly StepDocument[]): void => setEdited({ ...pipeline, steps });
  const setCurrent = (next: StepDocument): void =>
    setSteps(pipeline.steps.map((old, i) => (i === step - 1 ? next : old)));
  const isExtract = current !== undefined && stepParts(current).kind === 'extract';
  const knownField = (name: string): string | undefined =>
    makers.find((maker) => maker.field === name && !(maker.pipeline === id && maker.step === step))?.title;
  const followedState = sample?.trail[sample.trail.length - 1];
  return (
    <main className="px-6 pb-24">
      <PipelineSentence pipeline={pipeline} isExtract={isExtract} sample={sample} />
      <div className="mt-4 flex gap-6">
        <div className="w-[288px] shrink-0">
          <TextField
            label="Title"
            value={pipeline.title}
            onChange={(event) => setEdited({ ...pipeline, title: event.target.value })}
            onBlur={() => void nameByTitle()}
            className="mb-3"
          />
          <Section title="Entered by">
            <ConditionEditor
              isRaw
              label="Which events enter"
              value={pipeline.when}
              fields={[]}
              onChange={(when) => when !== pipeline.when && setEdited({ ...pipeline, when })}
            />
          </Section>
          <StepList
            pipeline={pipeline}
            live={live?.pipelines.find((other) => other.id === id)}
            step={step}
            onChoose={(n) => void setStep(n)}
            onChange={setSteps}
          />
          <PipelineTests
            pipeline={pipeline}
            line={sample?.line}
            event={followedState?.event}
            outcomes={answer?.tests ?? []}
            onChange={(tests) => setEdited({ ...pipeline, tests })}
          />
          <div className="mt-6 -ml-3 flex flex-col items-start">
            <a
              href={addressOf('planText', { pipeline: id })}
              download
              className="px-3 py-1 font-semibold text-mark hover:underline"
            >
              Export as YAML
            </a>
            <Button
              look="danger"
              onClick={() => {
                void change((before) => ({
                  ...before,
                  pipelines: before.pipelines.filter((other) => other.id !== id),
                })).then(() => router.push('/parsing'));
              }}
            >
              Remove pipeline
            </Button>
          </div>
        </div>
        <div className="min-w-0 flex-1">
          {current ? (
            <Section title={`Step ${step} · ${stepKinds.get(stepParts(current).kind)?.title ?? 'unknown'}`}>
              <StepEditor
                key={step}
                step={current}
                source={source}
                onChange={setCurrent}
                onRemove={() => setSteps(pipeline.steps.filter((_, i) => i !== step - 1))}
              />
            </Section>
          ) : (
            <Nothing title="This pipeline has no steps yet.">
              <p>Add one on the left.</p>
            </Nothing>
          )}
          {isExtract && sample && (
            <Proposals
              proposals={proposals}
              isFirst={templatesOf(current).every(isPlaceholder)}
              onUse={(template) => setCurrent(withTemplate(current, template, false))}
              onReplace={(kind) => setCurrent({ [kind]: { from: stepParts(current).options.from ?? 'body' } })}
            />
          )}
          {source === '' && <Nothing title="No source matches the entry condition, so there is no sample." />}
          {tape.sources.length > 1 && (
            <Select
              label="Lines of"
              value={source}
              options={tape.sources.map((name) => ({ value: name, title: name }))}
              onChange={(name) => {
                tape.choose(name);
                setFollowed(0);
              }}
              className="mt-4"
            />
          )}
          {sample && (
            <SampleLines
              sample={sample}
              showFit={isExtract}
              followed={followed}
              onFollow={setFollowed}
              knownField={knownField}
              onLearnt={(template, again) => isExtract && setCurrent(withTemplate(current, template, again))}
            />
          )}
          <label className="mt-3 block">
            <span className="block text-[12.5px] font-semibold text-second">Or paste a line to trace</span>
            <textarea
              value={pasted}
              onChange={(event) => {
                setPasted(event.target.value);
                setFollowed(0);
              }}
              className="line mt-1 h-10 w-full rounded-[5px] border border-hair bg-sheet p-2"
            />
          </label>
          {sample && sample.trail.length > 0 && <StepTrail trail={sample.trail} steps={pipeline.steps} />}
        </div>
      </div>
    </main>
  );
}

/** Whether a template is a placeholder, which a learnt or proposed one replaces: empty, or the whole line as message. */
const isPlaceholder = (text: string): boolean => text === '' || text === '{message:rest}';

/** The templates of an extract step. */
function templatesOf(step: StepDocument): readonly string[] {
  const { options } = stepParts(step);
  return Array.isArray(options.templates) ? options.templates.map(String) : [String(options.template ?? '')];
}

/** An extract step with a template that was learnt or proposed: in the place of the last one when it continues it. */
function withTemplate(step: StepDocument, template: string, again: boolean): StepDocument {
  const parts = stepParts(step);
  const { from = 'body' } = parts.options;
  const before = templatesOf(step);
  const kept = again ? before.slice(0, -1) : before.filter((text) => !isPlaceholder(text));
  const next = kept.includes(template) ? kept : [...kept, template];
  return stepDocument({
    ...parts,
    options: next.length === 1 ? { from, template: next[0] } : { from, templates: next },
  });
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
