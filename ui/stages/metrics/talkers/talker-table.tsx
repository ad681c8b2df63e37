'use client';

import Link from 'next/link';
import { useState } from 'react';
import { rankedBy } from '#core/plan/parts/rankings/ranking.ts';
import { conditionOfTalker } from '#core/talkers/talker-condition.ts';
import type { TalkerLabels } from '#core/talkers/talker-labels.ts';
import { Spark } from '../../../charts/spark.tsx';
import type { RankedTalker, RankingAnswer } from '../../../data/answers.ts';
import { whyIn } from '../../../data/why-address.ts';
import { Button } from '../../../kit/button.tsx';
import { dayAndMinute, inOtherZone } from '../../../kit/times/times.ts';
import { amountInWords, shareInWords } from '../../../parts/rankings/amount-in-words.ts';
import { ExcludeEvents } from '../../../parts/tiers/exclude-events.tsx';

/** Rows that are shown at first. */
const fewRows = 20;

/** Who contributed most, with their shares, and what can be done about each. */
export function TalkerTable(props: {
  readonly data: RankingAnswer;
  readonly onLeaveOut: (labels: TalkerLabels) => void;
}) {
  const { data, onLeaveOut } = props;
  const { talkers, by } = data;
  const [isAll, setAll] = useState(false);
  const shown = isAll ? talkers : talkers.slice(0, fewRows);
  const most = shown[0]?.share ?? 1;
  if (talkers.length === 0) return <p className="text-second">No events in this window. Try a longer one.</p>;
  return (
    <div className="@container">
      <table className="w-full table-fixed text-left">
        <caption className="sr-only">Largest contributors</caption>
        <thead className="text-[12.5px] text-second">
          <tr className="border-b border-hair">
            <th className="w-8 py-1 font-semibold" aria-label="place" />
            <th className="font-semibold">{by.join(' · ')}</th>
            <th className="w-28 pr-4 text-right font-semibold">{rankedBy(data)}</th>
            <th className="w-44 font-semibold">share</th>
            <th className="w-36 font-semibold @max-5xl:hidden">by step</th>
            <th className="w-32 font-semibold @max-4xl:hidden" title="In the ranking since, with no gap of a week">
              since
            </th>
            <th className="w-72" aria-label="actions" />
          </tr>
        </thead>
        <tbody>
          {shown.map((talker, i) => (
            <TalkerRow
              key={JSON.stringify(talker.labels)}
              place={i + 1}
              talker={talker}
              data={data}
              most={most}
              onLeaveOut={onLeaveOut}
            />
          ))}
        </tbody>
      </table>
      {talkers.length > fewRows && (
        <Button look="quiet" className="-ml-3" onClick={() => setAll(!isAll)}>
          {isAll ? `Only the first ${fewRows}` : `All ${talkers.length} that are known`}
        </Button>
      )}
    </div>
  );
}

/** The address that explains why the volume of a talker changed in the window. */
function whyOf(condition: string, { measure, from, to }: RankingAnswer): string {
  return whyIn(condition, measure === 'bytes' ? 'bytes' : 'events', `${inOtherZone(from)}..${inOtherZone(to)}`);
}

function TalkerRow(props: {
  readonly place: number;
  readonly talker: RankedTalker;
  readonly data: RankingAnswer;
  /** The share of the first. */
  readonly most: number;
  readonly onLeaveOut: (labels: TalkerLabels) => void;
}) {
  const { place, talker, data, most, onLeaveOut } = props;
  const { labels, name, amount, share, values, since } = talker;
  const condition = conditionOfTalker(data.when, data.by, labels);
  const span = data.at === null ? data : { from: data.at, to: data.at + data.every };
  const events = `/explore?${new URLSearchParams({ c: condition, w: `${inOtherZone(span.from)}..${inOtherZone(span.to)}` })}`;
  return (
    <tr className="border-b border-hair">
      <td className="py-1 text-[12.5px] text-second tabular-nums">{place}</td>
      <td className="line truncate pr-3" title={name}>
        {name}
      </td>
      <td className="pr-4 text-right whitespace-nowrap tabular-nums">{amountInWords(amount, data)}</td>
      <td>
        <span className="flex items-center gap-2 text-[12.5px]">
          <span className="h-2 w-[96px] shrink-0 bg-hair/40" aria-hidden="true">
            <span
              className="block h-2 bg-d4"
              style={{ width: `${most > 0 ? Math.max(1.5, (share / most) * 100) : 0}%` }}
            />
          </span>
          <span className="tabular-nums">{shareInWords(share)}</span>
        </span>
      </td>
      <td className="@max-5xl:hidden">
        <Spark
          values={data.isRunning ? values.slice(0, -1) : values}
          label={`${name} by step`}
          width={120}
          height={18}
        />
      </td>
      <td className="text-[12.5px] text-second @max-4xl:hidden" title={since === null ? undefined : inOtherZone(since)}>
        {since === null ? '–' : dayAndMinute(since)}
      </td>
      <td className="text-right text-[12.5px]">
        <Link href={events} className="text-mark hover:underline">
          Show events
        </Link>
        <Link href={whyOf(condition, data)} aria-label={`Why ${name}`} className="ml-3 text-mark hover:underline">
          why
        </Link>
        <button
          type="button"
          onClick={() => onLeaveOut(labels)}
          aria-label={`Leave ${name} out`}
          className="ml-3 text-mark hover:underline"
        >
          leave out
        </button>
        <ExcludeEvents name={name} condition={condition} className="ml-3 text-mark hover:underline">
          exclude
        </ExcludeEvents>
      </td>
    </tr>
  );
}
