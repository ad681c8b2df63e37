'use client';

import Link from 'next/link';
import { useCallback } from 'react';
import { equals } from '#core/conditions/write.ts';
import { formatBytes } from '#core/events/units.ts';
import { formatsSeen } from '#core/formats/seen.ts';
import { mayTake } from '#core/plan/may-enter.ts';
import { amountOf, shareOf, type VolumeSum } from '#core/routing/volume-sums.ts';
import { Chart, type Palette } from '../../charts/chart.tsx';
import { lastDays, timeAxes } from '../../charts/time-axes.ts';
import type { DriftView, SourceAnswer, TapeAnswer } from '../../data/answers.ts';
import { useQuestion } from '../../data/client.ts';
import { useDraft } from '../../data/draft.ts';
import { whyIn, whySince } from '../../data/why-address.ts';
import { Figure, FigurePending } from '../../kit/figure.tsx';
import { Nothing, Problem, Section } from '../../kit/section.tsx';
import { Sentence } from '../../kit/sentence.tsx';
import { StateMark } from '../../kit/state-mark.tsx';
import { clock, dayAndMinute, inOtherZone, percent } from '../../kit/times/times.ts';
import { partScreens } from '../../parts/index.ts';
import { ReadBy } from '../../parts/read-by.tsx';
import { EmitterTable } from './emitter-table.tsx';
import { HeardChart } from './heard-chart.tsx';
import { SeverityChart } from './severity-chart.tsx';
import { SilentGroups } from './silent-groups.tsx';
import { SourceSettings } from './source-settings.tsx';

/** One source: how it is, its volume, its emitters, what changed in it, its lines, how it is set up. */
export function SourcePage({ name }: { readonly name: string }) {
  const { data, error } = useQuestion('source', { name }, 10_000);
  const { data: tape } = useQuestion('tape', { source: name, limit: '40' }, 5_000);
  if (error) {
    return (
      <main className="px-6 pb-20">
        <Problem>{error.message}</Problem>
        <Link href="/sources" className="text-mark underline">
          All sources
        </Link>
      </main>
    );
  }
  const emitters = data?.health.some(({ emitter }) => emitter !== '') ?? false;
  return (
    <main className="px-6 pb-20">
      <SourceSentence name={name} data={data} />
      <ReadBy kind="source" name={name} />
      <div className="mt-4 flex gap-6">
        <div className="min-w-0 flex-1">
          {data && <SilentGroups groups={data.groups} />}
          <Section title="Events by severity · last 24 h">
            <SeverityChart source={name} />
          </Section>
          <Section title="Received by hour · 7 days" className="mt-3" aside={<WhyVolume source={name} />}>
            {data && <HourChart hours={data.hours} />}
          </Section>
          <Section
            title={emitters ? 'Emitters reporting and silent by hour · 7 days' : 'Heard by hour · 7 days'}
            className="mt-3"
          >
            <HeardChart source={name} />
          </Section>
          {data && data.drifts.length > 0 && <Drifts name={name} drifts={data.drifts} />}
          {emitters && (
            <Section title="Emitters" className="mt-4">
              <EmitterTable source={name} />
            </Section>
          )}
          <Section
            title="Recent lines, as they arrived"
            className="mt-4"
            aside={
              <Link
                href={`/explore?${new URLSearchParams({ c: `source = ${name}`, w: '-1h' })}`}
                className="font-semibold text-mark hover:underline"
              >
                Explore events
              </Link>
            }
          >
            {tape && tape.lines.length === 0 && <Nothing title="No lines in the last 24 h." />}
            <ol>
              {tape?.lines.map((line) => (
                <li key={`${line.received} ${line.raw}`} className="line flex gap-4 border-t border-hair py-1">
                  <time className="shrink-0 text-second" title={inOtherZone(line.received)}>
                    {clock(line.received)}
                  </time>
                  <span className="min-w-0 whitespace-pre-wrap break-all">{line.raw}</span>
                </li>
              ))}
            </ol>
          </Section>
        </div>
        <div className="w-[340px] shrink-0">
          <Touches name={name} data={data} lines={tape?.lines ?? []} />
          {partScreens.map(({ key, OnSource }) => OnSource && <OnSource key={key} source={name} />)}
          {data && <SourceSettings name={name} data={data} />}
        </div>
      </div>
    </main>
  );
}

function SourceSentence({ name, data }: { readonly name: string; readonly data: SourceAnswer | undefined }) {
  if (!data) {
    return (
      <Sentence>
        <b>{name}</b> sent <FigurePending /> in the last 24 h.
      </Sentence>
    );
  }
  const all = amountOf(data.day);
  const parsed = shareOf(amountOf(data.day.filter((sum) => sum.parsed)).events, all.events);
  const kept = shareOf(amountOf(data.day.filter((sum) => sum.outcome === 'kept')).bytes, all.bytes);
  const of = { of: `source ${name}`, over: 'last 24 h' };
  const whole = data.health.find(({ emitter }) => emitter === '');
  return (
    <>
      <Sentence>
        <b>{name}</b> sent{' '}
        <Figure name="received" {...of} unit="bytes" value={all.bytes}>
          {formatBytes(all.bytes)}
        </Figure>{' '}
        in the last 24 h
        {all.events > 0 && (
          <>
            ;{' '}
            <Figure name="parsed" {...of} unit="share of events" value={parsed} needs={parsed < 0.95}>
              {percent(parsed)}
            </Figure>{' '}
            of its events are parsed and{' '}
            <Figure name="kept" {...of} unit="share of bytes" value={kept}>
              {percent(kept)}
            </Figure>{' '}
            of its bytes kept
          </>
        )}
        .
      </Sentence>
      {whole && (
        <p className="mt-1 text-second">
          <StateMark state={whole.health.state} /> · {whole.health.reason}
        </p>
      )}
    </>
  );
}

/** In what formats its lines come, which pipelines and tiers take it, and what part it has of all that is kept and paid for. */
function Touches({
  name,
  data,
  lines,
}: {
  readonly name: string;
  readonly data: SourceAnswer | undefined;
  readonly lines: TapeAnswer['lines'];
}) {
  const { plan } = useDraft();
  const pipelines = plan?.pipelines.filter(({ when }) => mayTake(when, name)) ?? [];
  const day = data?.day.filter(({ outcome }) => outcome === 'kept') ?? [];
  const total = amountOf(day).bytes;
  const tiers = plan?.tiers.filter((tier) => day.some((sum) => sum.tier === tier.id)) ?? [];
  return (
    <Section title="What touches it · last 24 h">
      <ul className="border-y border-hair py-1.5">
        {formatsSeen(lines.map(({ raw }) => raw)).map(({ id, title, share }) => (
          <li key={id} className="flex justify-between py-0.5">
            <span>format {title}</span>
            <span className="text-second">{percent(share)} of its recent lines</span>
          </li>
        ))}
        {pipelines.map((pipeline) => (
          <li key={pipeline.id} className="py-0.5">
            pipeline{' '}
            <Link href={`/parsing/${pipeline.id}`} className="text-mark hover:underline">
              {pipeline.title}
            </Link>
          </li>
        ))}
        {tiers.map((tier) => (
          <li key={tier.id} className="flex justify-between py-0.5">
            <span>
              tier{' '}
              <Link href={`/routing#${tier.id}`} className="text-mark hover:underline">
                {tier.title}
              </Link>
            </span>
            <span className="text-second">
              {percent(shareOf(amountOf(day.filter((sum) => sum.tier === tier.id)).bytes, total))} of what is kept
            </span>
          </li>
        ))}
        {data && (
          <li className="flex justify-between py-0.5">
            <span>part of all that is kept</span>
            <span className="text-second">{percent(shareOf(total, data.keptOfAll.bytes))} of the bytes</span>
          </li>
        )}
        {plan && pipelines.length === 0 && (
          <li className="py-0.5 text-second">
            No pipeline for this source.{' '}
            <Link href={`/parsing?source=${name}`} className="text-mark underline">
              Create one
            </Link>
          </li>
        )}
      </ul>
    </Section>
  );
}

/** The measure for each kind of change; others use events. */
const whyMeasures: Readonly<Record<string, string>> = {
  'volume-moved': 'bytes',
  'volume-surged': 'bytes',
  'severity-moved': 'share of severity >= error',
};

/** What changed in what the source sends, each with the minute it began and the lines that show it. */
function Drifts({ name, drifts }: { readonly name: string; readonly drifts: readonly DriftView[] }) {
  return (
    <Section title="What changed · 7 days" className="mt-4">
      <ul>
        {drifts.slice(0, 12).map((drift) => (
          <li key={drift.id} className="flex justify-between gap-4 border-t border-hair py-1.5 last:border-b">
            <span>
              <span aria-hidden="true" className="text-caution">
                ▲
              </span>{' '}
              {drift.text} <span className="text-[12.5px] text-second">since {dayAndMinute(drift.since)}</span>
            </span>
            <Link
              href={whySince(equals('source', name), whyMeasures[drift.kind] ?? 'events', drift.since)}
              className="ml-auto shrink-0 font-semibold text-mark hover:underline"
            >
              Why
            </Link>
            <Link
              href={`/explore?${new URLSearchParams({
                c: `source = ${name} ${drift.shows}`,
                w: `${new Date(drift.since - 300_000).toISOString().slice(0, 19)}..now`,
              })}`}
              className="shrink-0 font-semibold text-mark hover:underline"
            >
              Show lines
            </Link>
          </li>
        ))}
      </ul>
    </Section>
  );
}

/** Links to why the volume of the last week changed. */
function WhyVolume({ source }: { readonly source: string }) {
  return (
    <Link
      href={whyIn(equals('source', source), 'bytes', '-7d')}
      className="text-[12.5px] font-semibold text-mark hover:underline"
    >
      Why
    </Link>
  );
}

function HourChart({ hours }: { readonly hours: readonly VolumeSum[] }) {
  const option = useCallback(
    (palette: Palette) => {
      const series = (parsed: boolean) =>
        [...new Set(hours.map((sum) => sum.start))]
          .sort((a, b) => a - b)
          .map((start) => [start, amountOf(hours.filter((sum) => sum.start === start && sum.parsed === parsed)).bytes]);
      return {
        ...timeAxes(palette, formatBytes, { span: lastDays(7) }),
        series: [
          { name: 'parsed', type: 'bar', stack: 'all', itemStyle: { color: palette.depth[4] }, data: series(true) },
          { name: 'unparsed', type: 'bar', stack: 'all', itemStyle: { color: palette.caution }, data: series(false) },
        ],
      };
    },
    [hours],
  );
  return <Chart label="Bytes by hour over the last week, parsed and unparsed" height={130} option={option} />;
}
