'use client';

import { formatCount } from '#core/events/units.ts';
import { describeRanking } from '#core/plan/parts/rankings/ranking.ts';
import { Spark } from '../../../charts/spark.tsx';
import type { RankingView } from '../../../data/answers.ts';
import { dayAndMinute, percent } from '../../../kit/times/times.ts';
import { draftStates } from '../draft-states.ts';

/** All rankings; the one that is shown below is on land. */
export function RankingTable(props: {
  readonly rankings: readonly RankingView[];
  /** When the window of the rankings begins (milliseconds). */
  readonly from: number;
  readonly chosen: string;
  readonly onChoose: (id: string, state: RankingView['state']) => void;
  readonly onEdit: (id: string) => void;
}) {
  const { rankings, from, chosen, onChoose, onEdit } = props;
  return (
    <table className="mt-2 w-full table-fixed text-left">
      <caption className="sr-only">Rankings</caption>
      <thead className="text-[12.5px] text-second">
        <tr className="border-b border-hair">
          <th className="py-1 font-semibold">ranking</th>
          <th className="w-[17%] font-semibold">of</th>
          <th className="w-44 font-semibold">since {dayAndMinute(from)}</th>
          <th className="w-[25%] font-semibold">first</th>
          <th className="w-24 pr-3 text-right font-semibold whitespace-nowrap">distinct</th>
          <th className="w-12" aria-label="edit" />
        </tr>
      </thead>
      <tbody>
        {rankings.map((ranking) => (
          <RankingRow
            key={ranking.id}
            ranking={ranking}
            isChosen={ranking.id === chosen}
            onChoose={() => onChoose(ranking.id, ranking.state)}
            onEdit={() => onEdit(ranking.id)}
          />
        ))}
      </tbody>
    </table>
  );
}

function RankingRow(props: {
  readonly ranking: RankingView;
  readonly isChosen: boolean;
  readonly onChoose: () => void;
  readonly onEdit: () => void;
}) {
  const { ranking, isChosen, onChoose, onEdit } = props;
  return (
    <tr className={`border-b border-hair align-top ${isChosen ? 'bg-land' : ''}`} aria-current={isChosen || undefined}>
      <td className="truncate py-1.5 pr-3">
        <button type="button" onClick={onChoose} className="text-left font-[650] hover:text-mark">
          {ranking.title}
        </button>
        <span className="ml-2 text-[12.5px] text-second">
          {describeRanking(ranking)}
          {draftStates[ranking.state] && <span className="text-mark"> · {draftStates[ranking.state]}</span>}
        </span>
      </td>
      <td className="line truncate py-1.5 pr-3 text-[12.5px] text-second" title={ranking.when}>
        {ranking.when || 'everything'}
      </td>
      <td className="py-1.5 pr-3">
        {ranking.trend.some((value) => value > 0) ? (
          <Spark values={ranking.trend} label={`${ranking.title} over the last day`} width={110} height={20} />
        ) : (
          <span className="text-[12.5px] text-second">no data yet</span>
        )}
      </td>
      <td className="py-1.5 pr-3 text-[12.5px]">
        {ranking.first && (
          <span className="flex gap-2">
            <span className="line truncate" title={ranking.first.name}>
              {ranking.first.name}
            </span>
            <span className="shrink-0 text-second">{percent(ranking.first.share)}</span>
          </span>
        )}
      </td>
      <td className="py-1.5 pr-3 text-right tabular-nums">{ranking.first ? formatCount(ranking.distinct) : '–'}</td>
      <td className="py-1.5 text-right">
        {!ranking.isReady && ranking.state !== 'removed' && (
          <button type="button" onClick={onEdit} className="text-mark text-[12.5px] hover:underline">
            Edit<span className="sr-only"> {ranking.title}</span>
          </button>
        )}
      </td>
    </tr>
  );
}
