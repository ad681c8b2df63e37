import { type EffectByKind, type Effects, kinds } from '#core/consumers/index.ts';
import type { Queryable } from '#store/database.ts';
import { arrivals } from './arrivals.ts';
import { caps } from './caps.ts';
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
import type { EffectWriter, WriterSetting } from './writer.ts';

type Writers = { readonly [Kind in keyof EffectByKind]: EffectWriter<EffectByKind[Kind]> };

const makers: { readonly [Kind in keyof Writers]: (setting: WriterSetting) => Writers[Kind] } = {
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

/** Writes the effects of a group inside its transaction; what it returns is to be called after the commit. */
export type WriteEffects = (tx: Queryable, effects: Effects, at: number) => Promise<() => void>;

/** Gets the writers of all kinds of effects ready. */
export function effectWriters(setting: WriterSetting): WriteEffects {
  const writers = Object.fromEntries(kinds.map((kind) => [kind, makers[kind](setting)])) as Writers;
  const writeOne = async <Kind extends keyof EffectByKind>(
    tx: Queryable,
    kind: Kind,
    effect: EffectByKind[Kind] | undefined,
    at: number,
  ): Promise<(() => void) | undefined> =>
    effect === undefined ? undefined : await writers[kind].write(tx, effect, at);
  return async (tx, effects, at) => {
    const afterwards: (() => void)[] = [];
    for (const kind of kinds) {
      const committed = await writeOne(tx, kind, effects[kind], at);
      if (committed) afterwards.push(committed);
    }
    return () => {
      for (const committed of afterwards) committed();
    };
  };
}
