import type { Switched } from '#core/plan/postures.ts';
import type { Database } from '#store/database.ts';
import { listPlanSwitches, type PlanSwitch } from '#store/plan/plan-switches.ts';

/** Under which a posture is switched on. */
export function postureSwitch(id: string): string {
  return `posture ${id}`;
}

/** Under which an exclusion is switched; its name is `tier/exclusion`. */
export function exclusionSwitch(name: string): string {
  return `exclusion ${name}`;
}

/**
 * What of the plan is switched, whichever engine was asked to. Each switch says when it ends, so that nothing has to run for
 * it to end.
 */
export class PlanSwitches {
  private list: readonly PlanSwitch[] = [];

  constructor(private readonly database: Database) {}

  /** Reads what people switched since the last time. */
  async refresh(): Promise<void> {
    this.list = await listPlanSwitches(this.database.db);
  }

  /** What is switched at a time (milliseconds), in an order that does not change. */
  at(now: number): Switched {
    const running = this.running(now);
    return {
      postures: running.flatMap(({ name }) => (name.startsWith('posture ') ? [name.slice('posture '.length)] : [])),
      exclusions: running.flatMap(({ name, keep }) =>
        name.startsWith('exclusion ') ? [{ exclusion: name.slice('exclusion '.length), keep }] : [],
      ),
    };
  }

  /** The switches that run at a time (milliseconds). */
  running(now: number): readonly PlanSwitch[] {
    return this.list
      .filter(({ since, until }) => since <= now && now < until)
      .sort((a, b) => (a.name < b.name ? -1 : 1));
  }
}
