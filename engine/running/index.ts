import { answerWeb } from './answer-web.ts';
import { bookLostMessages } from './book-lost-messages.ts';
import { commitEvents } from './commit-events.ts';
import { doRounds } from './do-rounds.ts';
import { listenForSyslog } from './listen-for-syslog.ts';
import { readFiles } from './read-files.ts';
import { readObjects } from './read-objects.ts';
import type { Runner } from './runner.ts';
import { saveLearnt } from './save-learnt.ts';
import { saveUsage } from './save-usage.ts';
import { sendDemo } from './send-demo.ts';
import { answerSenders, takeInEvents } from './take-in-events.ts';
import { takeLeases } from './take-leases.ts';
import { warmUp } from './warm-up.ts';

/**
 * All that an engine runs, in the order in which it is started. It is stopped the other way round: what takes events in before
 * what commits them, and the leases last that both are done under.
 */
export const runners: readonly Runner[] = [
  bookLostMessages,
  takeInEvents,
  takeLeases,
  saveLearnt,
  saveUsage,
  commitEvents,
  answerSenders,
  listenForSyslog,
  answerWeb,
  doRounds,
  sendDemo,
  readFiles,
  readObjects,
  warmUp,
];
