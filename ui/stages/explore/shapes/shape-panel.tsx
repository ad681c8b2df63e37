'use client';

import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { toast } from 'sonner';
import { formatCount } from '#core/events/units.ts';
import type { HoleSummary } from '#core/shapes/hole-values.ts';
import { shapeWords } from '#core/shapes/pieces.ts';
import { onlyCountedBy } from '#core/suggestions/who-reads.ts';
import type { Reader, ShapeAnswer } from '../../../data/answers.ts';
import { call, refresh, useQuestion } from '../../../data/client.ts';
import { addPipeline, useDraft } from '../../../data/draft.ts';
import { Button } from '../../../kit/button.tsx';
import { Problem, Section } from '../../../kit/section.tsx';
import { dayAndMinute, inOtherZone, percent } from '../../../kit/times/times.ts';
import { ReadBy } from '../../../parts/read-by.tsx';
import { newMetricLink } from '../../metrics/new-metric-link.ts';
import { KeepOfShape } from './keep-of-shape.tsx';
import { ShapeText, tintOf } from './shape-text.tsx';
import type { AskedShapes } from './use-shapes.ts';

/** Everything about one kind of line, and the decision how much of it to keep. */
export function ShapePanel({
  id,
  asked,
  onLines,
}: {
  readonly id: string;
  /** The window, as it is asked for. */
  readonly asked: AskedShapes;
  readonly onLines: (condition: string) => void;
}) {
  const { data, error } = useQuestion('shape', { id, from: asked.from, to: asked.to }, 30_000);
  const [areAllShown, setAllShown] = useState(false);
  if (error) return <Problem>{error.message}</Problem>;
  if (!data) return <p className="text-second">Loading its lines …</p>;
  const { shape, holes, lines, readers } = data;
  return (
    <div className="flex flex-col gap-4">
      <div>
        <p className="mb-1.5 text-[12.5px] text-second" title={inOtherZone(shape.firstSeen)}>
          A shape of {shape.sources.join(', ')} · first seen {dayAndMinute(shape.firstSeen)}
        </p>
        <p className="line rounded-[5px] border border-hair bg-paper px-2.5 py-2 leading-[20px] break-words">
          <ShapeText pieces={shape.pieces} />
        </p>
      </div>
      {holes.length > 0 && (
        <Section title={`What fills its holes · ${formatCount(lines)} taped lines`}>
          {holes.slice(0, areAllShown ? holes.length : fewHoles).map((hole, index) => (
            <Hole key={hole.name} hole={hole} index={index} />
          ))}
          {holes.length > fewHoles && !areAllShown && (
            <Button look="quiet" className="-ml-3 text-[12.5px]" onClick={() => setAllShown(true)}>
              {holes.length - fewHoles} more holes
            </Button>
          )}
        </Section>
      )}
      <KeepOfShape answer={data} />
      <Readers shape={shape.id} readers={readers} />
      <Beside answer={data} onLines={() => onLines(`shape = ${shape.id}`)} />
    </div>
  );
}

/** Holes that are shown at first, so that the decision below them is in sight. */
const fewHoles = 5;

function Hole({
  hole: { name, distinct, isMore, top, range },
  index,
}: {
  readonly hole: HoleSummary;
  readonly index: number;
}) {
  const values = top.map(({ value }) => value).join(', ');
  return (
    <p className="flex items-baseline gap-3 border-t border-hair py-1 text-[12.5px]">
      <span className="line max-w-[110px] shrink-0 truncate rounded-[2px] px-1" style={{ background: tintOf(index) }}>
        {name}
      </span>
      <span className="truncate text-second" title={values}>
        {range
          ? `${Number(range.low.toPrecision(4))} … ${Number(range.high.toPrecision(4))}`
          : `${isMore ? 'more than ' : ''}${formatCount(distinct)} ${distinct === 1 ? 'value' : 'values'} · ${values}`}
      </span>
    </p>
  );
}

const kinds: Readonly<Record<Reader['kind'], string>> = {
  pipeline: 'Pipeline',
  exclusion: 'Exclusion',
  metric: 'Metric',
  ranking: 'Ranking',
  search: 'Saved search',
  question: 'Question',
};

function Readers({ shape, readers }: { readonly shape: string; readonly readers: readonly Reader[] }) {
  return (
    <Section title="What uses these lines">
      <ReadBy kind="shape" name={shape} className="pb-1 text-[12.5px]" />
      {readers.length === 0 ? (
        <p className="text-[12.5px] text-second">
          No pipeline, exclusion, metric, ranking or saved search uses these lines.
        </p>
      ) : (
        readers.map(({ kind, name, share }) => (
          <p key={`${kind} ${name}`} className="border-t border-hair py-1 text-[12.5px]">
            {kinds[kind]} “{name}”{share < 0.995 && <span className="text-second"> · {percent(share)} of them</span>}
          </p>
        ))
      )}
      {onlyCountedBy(readers).length > 0 && (
        <p className="border-t border-hair pt-1 text-[12.5px]">
          <b className="font-[650]">These lines are only counted</b>: a metric counts them all, and no saved search uses
          them. The metric continues when the lines are no longer kept.
        </p>
      )}
    </Section>
  );
}

/** What else can be done with a shape. */
function Beside({
  answer: { shape, condition, template },
  onLines,
}: {
  readonly answer: ShapeAnswer;
  readonly onLines: () => void;
}) {
  const { change } = useDraft();
  const router = useRouter();
  const [isBusy, setBusy] = useState(false);
  const copy = async (): Promise<void> => {
    await navigator.clipboard.writeText(condition);
    toast(`Copied: ${condition}`);
  };
  const makePipeline = async (): Promise<void> => {
    setBusy(true);
    const [source = ''] = shape.sources;
    const title = `Lines of ${source}: ${shapeWords(shape.pieces).slice(0, 60)}`;
    const step = { extract: { from: 'body', template }, when: `shape = ${shape.id}` };
    const id = await addPipeline(change, { id: `${source}-lines`, title, when: `source = ${source}`, steps: [step] });
    router.push(`/parsing/${id}`);
  };
  const want = async (): Promise<void> => {
    await call('wantShape', { id: shape.id, wanted: !shape.wanted });
    await refresh('shape', 'shapes');
  };
  return (
    <div className="-ml-3 flex flex-wrap">
      <Button look="quiet" onClick={onLines}>
        Show lines
      </Button>
      <Button look="quiet" onClick={() => void copy()} title={condition}>
        Copy condition
      </Button>
      {template !== null && (
        <Button look="quiet" disabled={isBusy} onClick={() => void makePipeline()}>
          Create pipeline
        </Button>
      )}
      <Link
        href={newMetricLink({ when: `shape = ${shape.id}` })}
        className="px-3 py-1 font-semibold text-mark hover:underline"
      >
        Create metric
      </Link>
      <Button look="quiet" aria-pressed={shape.wanted} onClick={() => void want()}>
        {shape.wanted ? 'Marked as wanted ✓' : 'Mark as wanted'}
      </Button>
    </div>
  );
}
