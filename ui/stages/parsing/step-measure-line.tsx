import { formatBytes, formatCount } from '#core/events/units.ts';
import { type StepMeasure, stepTime } from '#core/plan/step-measures.ts';

/** What the steps of the live plan have done since it was published. */
export interface StepsAnswer {
  readonly revision: number;
  readonly since: number;
  readonly steps: Readonly<Record<string, StepMeasure>>;
}

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
  const own = measured?.steps[rule];
  if (!measured || !own || own.events === 0) return null;
  const { events, failed, weighedEvents, weighedGrowth } = own;
  const time = stepTime(own);
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
