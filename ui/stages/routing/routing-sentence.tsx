import { formatBytes } from '#core/events/units.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import type { RoutingAnswer } from '../../data/answers.ts';
import { Figure, FigurePending } from '../../kit/figure.tsx';
import { Sentence } from '../../kit/sentence.tsx';

const lastDay = { over: 'last 24 h', unit: 'bytes' };

/** What arrived in the last 24 hours, and what became of it. */
export function RoutingSentence(props: {
  readonly data: RoutingAnswer | undefined;
  readonly plan: PlanDocument | undefined;
}) {
  const { data, plan } = props;
  const kept = data?.tiers.reduce((sum, volume) => sum + volume.kept.bytes, 0) ?? 0;
  const removed = data?.tiers.reduce((sum, volume) => sum + volume.removed.bytes, 0) ?? 0;
  return (
    <Sentence>
      {data && plan && data.arrived.events === 0 ? (
        `No events in the last 24 h; ${plan.tiers.length === 1 ? 'one tier is' : `${plan.tiers.length} tiers are`} ready.`
      ) : data && plan ? (
        <>
          Of{' '}
          <Figure name="received" {...lastDay} value={data.arrived.bytes}>
            {formatBytes(data.arrived.bytes)}
          </Figure>{' '}
          in the last 24 h,{' '}
          <Figure name="kept bytes" {...lastDay} value={kept}>
            {formatBytes(kept)}
          </Figure>{' '}
          are kept in{' '}
          <Figure name="tiers" over="now" unit="tiers" value={plan.tiers.length}>
            {plan.tiers.length === 1 ? 'one tier' : `${plan.tiers.length} tiers`}
          </Figure>
          ,{' '}
          <Figure name="excluded bytes" {...lastDay} value={removed}>
            {formatBytes(removed)}
          </Figure>{' '}
          excluded, and{' '}
          <Figure name="passing bytes" {...lastDay} value={data.passing.bytes}>
            {formatBytes(data.passing.bytes)}
          </Figure>{' '}
          pass.
        </>
      ) : (
        <>
          Of <FigurePending /> in the last 24 h, <FigurePending /> are kept.
        </>
      )}
    </Sentence>
  );
}
