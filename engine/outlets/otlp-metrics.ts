import type { PlanDocument } from '#core/plan/document.ts';
import type { Database } from '#store/database.ts';
import type { Log } from '../base/log.ts';
import { exposedMetrics } from '../metrics/derived-metrics.ts';
import type { Pools } from '../workers/pools.ts';

/** How long a receiver may take for a message, in milliseconds. */
const patience = 10_000;

interface Setting {
  readonly database: Database;
  readonly pools: Pools;
  readonly plan: () => PlanDocument;
  readonly log: Log;
  /** Where messages go, such as `http://collector:4318/v1/metrics`; empty: nowhere. */
  readonly url: string;
}

/**
 * Sends the derived metrics of the live plan to a receiver of OTLP over HTTP. They are cumulative: what could not be sent is
 * in the next message. A receiver that does not take them is reported once, until it takes them again.
 */
export class OtlpMetrics {
  private isFailing = false;

  constructor(private readonly setting: Setting) {}

  /** Sends them as they are now. Returns whether all was taken. */
  async send(now: number): Promise<boolean> {
    const { database, pools, plan, url } = this.setting;
    if (url === '') return true;
    const metrics = await exposedMetrics(database, plan());
    if (metrics.length === 0) return true;
    const messages = await pools.background({ kind: 'otlpMetrics', metrics, now });
    for (const message of messages) {
      const fault = await this.post(message);
      if (fault !== undefined) {
        this.tell(fault);
        return false;
      }
    }
    this.tell(undefined);
    return true;
  }

  private async post(body: string): Promise<string | undefined> {
    try {
      const answer = await fetch(this.setting.url, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body,
        redirect: 'error',
        signal: AbortSignal.timeout(patience),
      });
      await answer.body?.cancel();
      return answer.ok ? undefined : `it answered ${answer.status}`;
    } catch (error) {
      return error instanceof Error ? error.message : 'it cannot be reached';
    }
  }

  private tell(fault: string | undefined): void {
    const { log, url } = this.setting;
    if (fault !== undefined && !this.isFailing)
      log.warn(
        `Metrics could not be sent to ${url}: ${fault}. They are sent again every minute, with what came meanwhile.`,
      );
    if (fault === undefined && this.isFailing) log.info(`Metrics are sent to ${url} again.`);
    this.isFailing = fault !== undefined;
  }
}
