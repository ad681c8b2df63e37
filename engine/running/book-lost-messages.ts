import type { Runner } from './runner.ts';

/** Writes down the datagrams that were lost in the last moments. */
export const bookLostMessages: Runner = {
  name: 'messages that were lost',
  start: ({ lost }) => ({ stop: () => lost.book(Date.now()) }),
};
