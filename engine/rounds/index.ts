import { leaseNames } from '../cluster/leases.ts';
import { bookLostMessages } from './book-lost-messages.ts';
import { decideShapes } from './decide-shapes.ts';
import { drainSpools } from './drain-spools.ts';
import { expireEvents } from './expire-events.ts';
import { followChanges } from './follow-changes.ts';
import { freeMemory } from './free-memory.ts';
import { closeMinutes } from './health/close-minutes.ts';
import { listenToOthers } from './health/listen-to-others.ts';
import { saveLearnt } from './health/save-learnt.ts';
import { watchSurges } from './health/watch-surges.ts';
import { watchVolumes } from './health/watch-volumes.ts';
import { mergeSegments } from './merge-segments.ts';
import { countSeries } from './metrics/count-series.ts';
import { expireMetrics } from './metrics/expire-metrics.ts';
import { expireTalkers } from './metrics/expire-talkers.ts';
import { fillMetrics } from './metrics/fill-metrics.ts';
import { foldMetrics } from './metrics/fold-metrics.ts';
import { foldTalkers } from './metrics/fold-talkers.ts';
import { rollUpMetrics } from './metrics/roll-up-metrics.ts';
import { rollUpTalkers } from './metrics/roll-up-talkers.ts';
import { sendMetrics } from './metrics/send-metrics.ts';
import { resumeRewinds } from './resume-rewinds.ts';
import type { Round } from './round.ts';
import { runDemo } from './run-demo.ts';
import { saveUsage } from './save-usage.ts';
import { watchDisk } from './watch-disk.ts';

/** All that an engine does again and again. */
export const rounds: readonly Round[] = [
  followChanges,
  runDemo,
  watchDisk,
  freeMemory,
  bookLostMessages,
  mergeSegments,
  expireEvents,
  decideShapes,
  foldMetrics,
  rollUpMetrics,
  fillMetrics,
  sendMetrics,
  countSeries,
  expireMetrics,
  foldTalkers,
  rollUpTalkers,
  expireTalkers,
  resumeRewinds,
  listenToOthers,
  closeMinutes,
  watchVolumes,
  watchSurges,
  saveLearnt,
  saveUsage,
  ...drainSpools,
];

/** The leases that an engine wants for its rounds. Rounds that every engine does need some of them for a part of their work. */
export const roundLeases: readonly string[] = [
  ...new Set([leaseNames.shapes, leaseNames.health, ...rounds.flatMap(({ lease }) => lease ?? [])]),
];
