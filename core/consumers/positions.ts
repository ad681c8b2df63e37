import type { Consumer } from './consumer.ts';
import type { ReadProgress } from './progress.ts';

/** How far the readers of files and objects have come, noted with the events they brought. */
export const positions: Consumer<readonly ReadProgress[]> = {
  begin: () => {
    const progress: ReadProgress[] = [];
    return {
      add: ({ delivery }) => {
        if (delivery.progress) progress.push(delivery.progress);
      },
      effect: () => (progress.length > 0 ? progress : undefined),
    };
  },
};
