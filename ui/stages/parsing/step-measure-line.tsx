import { formatBytes, formatCount } from '#core/events/units.ts';
import { stepTime } from '#core/pipelines/step-measures.ts';
import type { StepsAnswer } from '../../data/answers.ts';

/** A step this slow, in microseconds an event, is named. */
const slowFrom = 20;

/** Events in, failures, time an event and bytes saved or added a day of one step, as measured live. */
export function StepMeasureLine({
  measured,
  rule,
}: {
  readonly measured: StepsAnswer | undefined;
  readonly rule: string;
}) {
  const measure = measured?.steps[rule];
  if (!measured || !measure || measure.events === 0) return null;
  const { events, failed, weighedEvents, weighedGrowth } = measure;
  const time = stepTime(measure);
  const slow = time !== undefined && time >= slowFrom;
  const aDay = (events * 86_400_000) / Math.max(60_000, Date.now() - measured.since);
  const growth = weighedEvents > 0 ? (weighedGrowth / weighedEvents) * aDay : 0;
  return (
    <small className="block text-[12px] text-second">
      {formatCount(events)} in
      {failed > 0 && <span className="font-semibold text-ink"> · ▲ {formatCount(failed)} failed</span>} ·{' '}
      <span className={slow ? 'font-semibold text-ink' : ''}>
        {slow && '▲ slow: '}
        {time === undefined ? 'too few to time' : `${time.toFixed(1)} µs each`}
      </span>
      {Math.abs(growth) > 1 && ` · ${growth < 0 ? '−' : '+'}${formatBytes(Math.abs(growth))}/day`}
    </small>
  );
}
