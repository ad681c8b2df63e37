import type { Runner } from './runner.ts';

/** Ends the senders of the demo, which run while a round has them run. */
export const sendDemo: Runner = {
  name: 'the senders of the demo',
  leases: ({ demo }) => demo.names(),
  start: ({ demo }) => ({ quiet: () => demo.stop() }),
};
