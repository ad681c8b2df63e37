import type { Round } from './round.ts';

/** Writes down how many datagrams were lost. */
export const bookLostMessages: Round = {
  name: 'lost messages',
  pause: 2_000,
  begin:
    ({ lost }) =>
    () =>
      lost.book(Date.now()),
};
