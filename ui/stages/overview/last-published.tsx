'use client';

import Link from 'next/link';
import { day } from '#core/events/time-units.ts';
import { formatBytes, formatCount } from '#core/events/units.ts';
import type { ComparedFigure, RevisionEffectView, RevisionView } from '../../data/answers.ts';
import { useQuestion } from '../../data/client.ts';
import { Section } from '../../kit/section.tsx';
import { ago, dayAndMinute, percent } from '../../kit/times/times.ts';

/** The last published change, with what was predicted of it beside what is measured since. */
export function LastPublished() {
  const { data } = useQuestion('revisions', {}, 5_000);
  const [latest] = data?.revisions ?? [];
  if (!latest || latest.number < 2) return null;
  return (
    <Section title={`Revision ${latest.number} · published ${ago(latest.publishedAt)}`} className="mt-5">
      <p className="border-t border-hair pt-2">
        <Link href="/changes" className="hover:underline">
          {latest.note}
        </Link>
      </p>
      <PredictedAndMeasured revision={latest} />
    </Section>
  );
}

/** Fewest events that are compared: of fewer, shares say nothing. */
const fewest = 100;

/** Predicted and measured figures of a revision, over the same events. */
export function PredictedAndMeasured({ revision }: { readonly revision: RevisionView }) {
  const { isRehearsed, effect, until } = revision;
  if (!isRehearsed) return <p className="text-second">Published without a rehearsal: there is no prediction.</p>;
  if (!effect || effect.arrived.events < fewest)
    return <p className="text-second">{tooLittle(effect?.arrived.events ?? 0, until !== null)}</p>;
  const { parsed, kept, arrived } = effect;
  const rows: readonly (readonly [string, (figure: keyof ComparedFigure) => string])[] = [
    ['parsed', (figure) => percent(parsed[figure] / arrived.events)],
    ['kept', (figure) => formatBytes(kept[figure])],
    ['share kept', (figure) => percent(arrived.bytes > 0 ? kept[figure] / arrived.bytes : 0)],
  ];
  return (
    <>
      <table className="mt-1 w-full text-[12.5px]" aria-label="Predicted and measured">
        <thead>
          <tr>
            <th scope="col" />
            {figures.map((figure) => (
              <th key={figure} scope="col" className="text-right">
                {figure}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map(([title, text]) => (
            <tr key={title} className="border-t border-hair last:border-b">
              <th scope="row">{title}</th>
              {figures.map((figure) => (
                <td key={figure} className={`text-right ${figure === 'measured' ? 'font-semibold' : ''}`}>
                  {text(figure)}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      <ComparedEvents revision={revision} effect={effect} />
    </>
  );
}

const figures = ['before', 'predicted', 'measured'] as const;

function tooLittle(events: number, isOver: boolean): string {
  if (isOver) return `Not compared: ${formatCount(events)} events arrived while it was live.`;
  return `Compared with the prediction from ${fewest} events on; ${formatCount(events)} have arrived.`;
}

/** Over which events the figures are. */
function ComparedEvents(props: { readonly revision: RevisionView; readonly effect: RevisionEffectView }) {
  const { from, to, arrived, newSources } = props.effect;
  const full = from + day;
  const isOver = props.revision.until !== null;
  return (
    <p className="mt-1 text-[12px] text-second">
      Over the same {formatCount(arrived.events)} events, {dayAndMinute(from)} to {dayAndMinute(to)}.
      {!isOver && to < full && ` All hours of a day by ${dayAndMinute(full)}.`}
      {newSources.length > 0 && ` Without ${namesOf(newSources)}: new since the rehearsal.`}
    </p>
  );
}

function namesOf(sources: readonly string[]): string {
  const [first, ...rest] = sources;
  return rest.length < 2 ? sources.join(' and ') : `${first} and ${rest.length} other sources`;
}
