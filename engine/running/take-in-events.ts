import type { Runner } from './runner.ts';

/** Listens for events over HTTP. */
export const takeInEvents: Runner = {
  name: 'the intake',
  start: async ({ intake, config, learning }) => {
    await intake.listen({ host: config.host, port: config.intakePort });
    // Events are taken in from now on. What is learnt of them waits until what was learnt before has been read.
    await learning.load();
    return { quiet: () => Promise.resolve(intake.close()) };
  },
};

/** Lets the requests come to their end that were there when the intake closed. */
export const answerSenders: Runner = {
  name: 'answers to senders',
  start: ({ intake }) => ({ stop: () => Promise.resolve(intake.close()) }),
};
