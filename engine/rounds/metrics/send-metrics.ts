import { leaseNames } from '../../cluster/leases.ts';
import { OtlpMetrics } from '../../outlets/otlp-metrics.ts';
import type { Round } from '../round.ts';

/** Sends metrics to the receiver that the installation names. */
export const sendMetrics: Round = {
  name: 'sending metrics',
  pause: 60_000,
  lease: leaseNames.metrics,
  begin: ({ database, pools, plan, log, config }) => {
    const outlet = new OtlpMetrics({ database, pools, plan: () => plan.current().plan, log, url: config.metricsUrl });
    return async () => void (await outlet.send(Date.now()));
  },
};
