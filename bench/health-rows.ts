import { runWorld } from '../core/testing/emitter-world.ts';
import type { Row } from './measure.ts';

/** Emitters and common causes of the simulated fortnight. */
const emitters = 2_000;
const outages = 10;

/**
 * A fortnight of 2,000 emitters with cadences from a second to a day: how well silence and its causes are reported. The
 * ratios say how far inside the limit we are; a limit of nothing missed is a ratio of 1.
 */
export function healthRows(): readonly Row[] {
  const world = runWorld(emitters, outages, 11);
  const allowed = world.emitterDays / 1_000;
  return [
    {
      id: 'h outages reported as one group, right cause first / planted',
      ours: world.outagesFound,
      peer: outages,
      ratio: world.outagesFound / outages,
      floor: 1,
    },
    {
      id: 'h silences noticed in time / silences',
      ours: world.noticed,
      peer: world.silenced,
      ratio: world.noticed / world.silenced,
      floor: 1,
    },
    {
      id: 'h three intervals / longest wait for a silence',
      ours: world.longestDelay,
      peer: 3,
      ratio: 3 / world.longestDelay,
      floor: 1,
    },
    {
      id: 'h false alarms allowed / false alarms + 1',
      ours: world.falseAlarms,
      peer: allowed,
      ratio: allowed / (world.falseAlarms + 1),
      floor: 1,
    },
  ];
}
