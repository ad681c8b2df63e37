import type { Currency } from '../costs/price-book.ts';
import type { Attention } from '../health/attention.ts';
import type { OverviewView } from '../views/overview.ts';

/** `GET /api/overview` */
export interface OverviewAnswer extends OverviewView {
  readonly attention: readonly Attention[];
  readonly revision: number;
  readonly at: number;
}

/** `GET /api/course`: the live figures under the names of the stages. */
export interface CourseAnswer {
  readonly at: number;
  /** Over the last minute. */
  readonly eventsPerSecond: number;
  /** Events that arrived in the last 24 hours; with none, the shares say nothing. */
  readonly arrived: number;
  /** Of the events of the last 24 hours, from 0 to 1. */
  readonly parsedShare: number;
  /** Of the bytes of the last 24 hours, from 0 to 1. */
  readonly keptShare: number;
  readonly storedEvents: number;
  /** Series of metrics that something came for in the last 30 days. */
  readonly series: number;
  readonly revision: number;
  /** What this month comes to, or came to so far where nothing more can be told, in coins; null without a price book. */
  readonly month: { readonly currency: Currency; readonly coins: number; readonly isForecast: boolean } | null;
  /** How many things need someone, by stage. */
  readonly needs: {
    readonly sources: number;
    readonly parsing: number;
    readonly routing: number;
    readonly metrics: number;
    readonly costs: number;
  };
}
