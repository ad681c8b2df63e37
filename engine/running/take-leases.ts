import type { Runner } from './runner.ts';

/** Takes and renews leases. The port is what the name of the engine goes by: it has to be listened on before. */
export const takeLeases: Runner = {
  name: 'the leases',
  start: async ({ leases }) => {
    const looks = await leases.start();
    return { quiet: looks.stop, stop: () => leases.giveUp() };
  },
};
