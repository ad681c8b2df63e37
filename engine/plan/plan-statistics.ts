import { mixed, number, object } from 'yup';
import { type PackedWork, packWork, unpackWork } from '#core/consumers/pack-work.ts';
import type { PlanWork } from '#core/consumers/steps.ts';
import { addStepMeasure, type StepMeasure } from '#core/pipelines/step-measures.ts';
import type { Queryable } from '#store/database.ts';
import { readLearnt, saveLearnt } from '#store/sources/health-deltas.ts';
import type { Learner } from '../learning/learner.ts';

/** What each step of a revision has done since it came into force. */
export interface RevisionSteps {
  readonly revision: number;
  /** When its first group was committed, in milliseconds. */
  readonly since: number;
  readonly steps: Readonly<Record<string, StepMeasure>>;
}

const saved = object({ since: number().required(), work: mixed<PackedWork>().required() });

/** What the steps of the live revision did, of all engines together. */
export class PlanStatistics implements Learner {
  readonly kind = 'steps';
  private live: { readonly since: number; readonly work: PlanWork } | undefined;
  private changed = false;

  /** What each step did. */
  get steps(): RevisionSteps | undefined {
    if (!this.live) return undefined;
    const { since, work } = this.live;
    return { revision: work.revision, since, steps: Object.fromEntries(work.steps) };
  }

  learn(data: Uint8Array, at: number): void {
    // Written by the same code, and read by nobody else.
    const packed: PackedWork = JSON.parse(new TextDecoder().decode(data));
    this.add(unpackWork(packed), at);
  }

  async load(tx: Queryable): Promise<void> {
    const facts = await readLearnt(tx, this.kind);
    this.live = undefined;
    if (facts === undefined) return;
    const { since, work } = saved.cast(facts);
    this.live = { since, work: unpackWork(work) };
  }

  async save(tx: Queryable): Promise<() => void> {
    if (!this.live || !this.changed) return () => {};
    const { since, work } = this.live;
    this.changed = false;
    await saveLearnt(tx, this.kind, { since, work: packWork(work) });
    return () => {
      this.changed = true;
    };
  }

  private add(work: PlanWork, at: number): void {
    if (!this.live || this.live.work.revision < work.revision)
      this.live = { since: at, work: { revision: work.revision, steps: new Map() } };
    const { work: sum } = this.live;
    if (sum.revision !== work.revision) return;
    this.changed = true;
    for (const [rule, measure] of work.steps) addStepMeasure(sum.steps, rule, measure);
  }
}
