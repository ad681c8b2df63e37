'use client';

import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { parseAsStringLiteral, useQueryState } from 'nuqs';
import { useCallback } from 'react';
import { equals } from '#core/conditions/write.ts';
import { formatBytes } from '#core/events/units.ts';
import { isAboutBudget } from '#core/views/attention.ts';
import { FlowMap } from '../../charts/flow-map.tsx';
import { VolumeChart } from '../../charts/volume-chart.tsx';
import type { Attention, FlowNode, OverviewAnswer } from '../../data/answers.ts';
import { useQuestion } from '../../data/client.ts';
import { measureNames, measureOf, measureOptions } from '../../data/measures.ts';
import { whySince } from '../../data/why-address.ts';
import { Choice } from '../../kit/choice.tsx';
import { Figure, FigurePending } from '../../kit/figure.tsx';
import { Problem, Section } from '../../kit/section.tsx';
import { Sentence } from '../../kit/sentence.tsx';
import { dayAndMinute, percent } from '../../kit/times/times.ts';
import { useRoom } from '../../kit/use-room.ts';
import { DemoStrip } from './demo-data.tsx';
import { FirstSource } from './first-source.tsx';
import { LastPublished } from './last-published.tsx';
import { NextSteps } from './next-steps.tsx';
import { WorthDoing } from './worth-doing.tsx';

const numbers = [
  'nothing',
  'one thing',
  'two things',
  'three things',
  'four things',
  'five things',
  'six things',
  'seven things',
];

/** The height of everything but the two charts, and the least height of both charts together (pixels). */
const aroundCharts = 268;
const leastCharts = 532;

/** Where does it all flow, and what needs me today? */
export function Overview() {
  const { data, error } = useQuestion('overview', {}, 15_000);
  const [chosen, setMeasure] = useQueryState('measure', parseAsStringLiteral(measureNames).withDefault('bytes'));
  const currency = data?.currency ?? null;
  const measure = measureOf(chosen, currency);
  const router = useRouter();
  const room = useRoom(aroundCharts, leastCharts);
  const flowHeight = Math.round((room * 2) / 3);
  const open = useCallback((node: FlowNode) => router.push(placeOf(node)), [router]);
  return (
    <main className="px-6 pb-20">
      <OverviewSentence data={data} />
      <DemoStrip />
      {error && <Problem>{error.message}</Problem>}
      {data && data.arrived.events === 0 && <FirstSource />}
      {data && data.arrived.events === 0 && data.attention.length > 0 && (
        <div className="mt-6 max-w-[560px]">
          <Needs attention={data.attention} />
        </div>
      )}
      {data && data.arrived.events > 0 && (
        <div className="mt-4 flex gap-6">
          <div className="min-w-0 flex-1">
            <Section
              title={
                measure === 'coins'
                  ? 'Cost until expiry, of what was received · last 24 h'
                  : 'Where it flows · last 24 h'
              }
              aside={
                <Choice
                  label="Width of the streams"
                  value={chosen}
                  onChange={(value) => void setMeasure(value)}
                  options={measureOptions(currency)}
                />
              }
            >
              <FlowMap flow={data.flow} measure={measure} currency={currency} height={flowHeight} onOpen={open} />
            </Section>
            <Section
              title={`${measure === 'coins' ? 'Cost until expiry' : 'Received'}, by where it went · 14 days`}
              className="mt-2"
            >
              <VolumeChart view={data} measure={measure} height={room - flowHeight} />
            </Section>
          </div>
          <div className="w-[340px] shrink-0">
            <NextSteps />
            <Needs attention={data.attention} />
            <WorthDoing most={3} className="mt-6" />
            <LastPublished />
          </div>
        </div>
      )}
    </main>
  );
}

function placeOf(node: FlowNode): string {
  const name = node.id.slice(node.id.indexOf(':') + 1);
  switch (node.kind) {
    case 'source':
      return name === '' ? '/sources' : `/sources/${name}`;
    case 'parsed':
    case 'unparsed':
      return '/parsing';
    default:
      return `/routing#${name}`;
  }
}

function OverviewSentence({ data }: { readonly data: OverviewAnswer | undefined }) {
  if (!data) {
    return (
      <Sentence>
        <FigurePending /> received from <FigurePending /> in the last 24 h.
      </Sentence>
    );
  }
  const { arrived, sources, parsedShare, keptShare, attention } = data;
  if (arrived.events === 0)
    return <Sentence>No events in the last 24 h. Connect a source, and they appear here.</Sentence>;
  const needs = attention.length;
  const day = { over: 'last 24 h' };
  return (
    <Sentence>
      <Figure name="received" {...day} unit="bytes" value={arrived.bytes} to="/sources">
        {formatBytes(arrived.bytes)}
      </Figure>{' '}
      received from{' '}
      <Figure name="sources that sent" {...day} unit="sources" value={sources} to="/sources">
        {sources} {sources === 1 ? 'source' : 'sources'}
      </Figure>{' '}
      in the last 24 h;{' '}
      <Figure name="parsed" {...day} unit="share of events" value={parsedShare} to="/parsing">
        {percent(parsedShare)}
      </Figure>{' '}
      of the events are parsed and{' '}
      <Figure name="kept" {...day} unit="share of bytes" value={keptShare} to="/routing">
        {percent(keptShare)}
      </Figure>{' '}
      of the bytes kept.{' '}
      {needs > 0 ? (
        <>
          <Figure name="things that need you" over="now" unit="things" value={needs} needs>
            {sentenceCase(numbers[needs] ?? `${needs} things`)}
          </Figure>{' '}
          {needs === 1 ? 'needs' : 'need'} you.
        </>
      ) : (
        'Nothing needs you.'
      )}
    </Sentence>
  );
}

function sentenceCase(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}

function linkOf(item: Attention): string {
  if (isAboutBudget(item)) return '/costs';
  if (item.revision !== undefined) return `/changes?timeline=${item.revision}`;
  if (item.metric !== undefined) return `/metrics?edit=${encodeURIComponent(item.metric)}`;
  if (item.tier !== undefined) return `/routing?tier=${encodeURIComponent(item.tier)}`;
  if (item.kind === 'set-aside') return '/parsing?view=rejects';
  if (item.kind === 'disk-full' || item.kind === 'clock-ahead') return '/sources';
  if (item.kind === 'parse-failures') return `/parsing?source=${item.source}`;
  if (item.kind === 'silent-emitters') {
    const show = 'count() as events, last(time) as last_seen by emitter sort by last_seen asc';
    return `/explore?${new URLSearchParams({ c: `source = ${item.source}`, w: '-6h', show, view: 'summary' })}`;
  }
  if (item.kind === 'volume-jump' || item.kind === 'volume-surge')
    return whySince(equals('source', item.source), 'bytes', item.since);
  return `/sources/${item.source}`;
}

function Needs({ attention }: { readonly attention: readonly Attention[] }) {
  return (
    <Section title="Needs you">
      {attention.length === 0 && (
        <p className="border-t border-hair py-3 text-second">Nothing: sources send as usual, and their lines parse.</p>
      )}
      <ul>
        {attention.map((item) => (
          <li key={item.kind + item.source + item.title} className="border-t border-hair last:border-b">
            <Link href={linkOf(item)} className="grid grid-cols-[20px_1fr_auto] gap-x-2 py-2 hover:bg-land/40">
              <span
                aria-hidden="true"
                className={`text-[15px] ${item.level === 'danger' ? 'text-danger' : 'text-caution'}`}
              >
                {item.level === 'danger' ? '◆' : '▲'}
              </span>
              <span>
                {item.title}
                <small className="block text-[12px] leading-4 text-second">
                  since {dayAndMinute(item.since)} · {item.detail}
                </small>
              </span>
              <b className="font-semibold whitespace-nowrap">{item.figure}</b>
            </Link>
          </li>
        ))}
      </ul>
    </Section>
  );
}
