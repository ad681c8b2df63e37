import type { CompiledPlan } from '../plan/compile.ts';
import { arrivals } from './arrivals.ts';
import { caps } from './caps.ts';
import type { Consumer, GroupContext, RoutedDelivery } from './consumer.ts';
import { heard } from './heard.ts';
import { keys } from './keys.ts';
import { ledger } from './ledger.ts';
import { metrics } from './metrics.ts';
import { outgoing } from './outgoing.ts';
import { positions } from './positions.ts';
import { segments } from './segments.ts';
import { shapes } from './shapes.ts';
import { steps } from './steps.ts';
import { talkers } from './talkers.ts';
import { tape } from './tape.ts';

/** All that reads the stream, in the order in which their effects are asked for and written: the ledger after those who book in it, caps last, as their rows stay locked. */
export const consumers = {
  keys,
  positions,
  segments,
  outgoing,
  ledger,
  tape,
  heard,
  steps,
  shapes,
  metrics,
  talkers,
  arrivals,
  caps,
};

type EffectOf<Reader> = Reader extends Consumer<infer Effect> ? Effect : never;

/** The effect of each kind of consumer. */
export type EffectByKind = { readonly [Kind in keyof typeof consumers]: EffectOf<(typeof consumers)[Kind]> };

/** What a group of deliveries has to have written, by the kind of consumer; a kind that has nothing to write is absent. */
export type Effects = Partial<EffectByKind>;

/** The kinds of consumers, in their order. */
export const kinds = Object.keys(consumers) as readonly (keyof EffectByKind)[];

/** A group on its way past all consumers. */
export interface GroupAccumulator {
  readonly add: (delivery: RoutedDelivery) => void;
  /** The effects, and the bytes in them that may be handed over. */
  readonly finish: () => { readonly effects: Effects; readonly bytes: readonly Uint8Array[] };
}

/** Begins with a group of deliveries for all consumers. */
export function beginGroup(plan: CompiledPlan, group: GroupContext): GroupAccumulator {
  const accumulators = kinds.map((kind) => {
    const consumer: Consumer<unknown> = consumers[kind];
    return { kind, consumer, accumulator: consumer.begin(plan, group) };
  });
  return {
    add: (delivery) => {
      for (const { accumulator } of accumulators) accumulator.add(delivery);
    },
    finish: () => {
      const effects: Partial<Record<keyof EffectByKind, unknown>> = {};
      const bytes: Uint8Array[] = [];
      for (const { kind, consumer, accumulator } of accumulators) {
        const effect = accumulator.effect();
        if (effect === undefined) continue;
        effects[kind] = effect;
        bytes.push(...(consumer.bytesOf?.(effect) ?? []));
      }
      // Each kind's effect came from the consumer of that kind.
      return { effects: effects as Effects, bytes };
    },
  };
}
