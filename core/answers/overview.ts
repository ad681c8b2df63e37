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
  readonly eventsPerSecond: number;
  readonly parsedShare: number;
  readonly keptShare: number;
  readonly storedEvents: number;
  readonly revision: number;
  /** How many things need someone, by stage. */
  readonly needs: { readonly sources: number; readonly parsing: number; readonly routing: number };
}
