import { formatCount } from '#core/events/units.ts';
import type { RehearsedFigure, RehearsedMetric } from '#core/plan/parts/metrics/rehearse-metrics.ts';
import { isLeftAlone } from '#core/plan/parts/metrics/rehearse-metrics.ts';
import type { RehearsalAnswer } from '#core/rehearsal/rehearsal-answer.ts';
import { figureInWords } from './figures.ts';
/** The metrics that a draft changes, and by how much. */
export function RehearsedMetrics({ rehearsal: { metrics = [] } }: { readonly rehearsal: RehearsalAnswer }) {
  const changed = metrics.filter((metric) => !isLeftAlone(metric));
  if (changed.length === 0) return null;
  const inWords = (figure: RehearsedFigure | null, { figure: name, unit }: RehearsedMetric): string =>
    figure ? `${figureInWords(figure.value, name, unit)}, ${formatCount(figure.series)} series` : '–';
  return (
    <div>
      <h2>Metrics</h2>
      <ul className="text-[12.5px]">
        {changed.map((metric) => (
          <li key={metric.id} className="border-t border-hair py-1">
            <span className="font-semibold">{metric.name}</span>{' '}
            <span className="text-second">
              {metric.figure}: {inWords(metric.live, metric)} →{' '}
              <b className="text-ink">{inWords(metric.draft, metric)}</b>
            </span>
            {metric.draft && metric.draft.events === 0 && (
              <span className="block text-caution">▲ No events would match it any more.</span>
            )}
          </li>
        ))}
      </ul>
    </div>
  );
}
