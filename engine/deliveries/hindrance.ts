/** Why nothing can be taken in now: the store is away, or its disk is as full as it may be. */
export type Hindrance = 'away' | 'full';

/** What senders are answered then. */
export const hindrances: Readonly<Record<Hindrance, { readonly title: string; readonly detail: string }>> = {
  away: {
    title: 'The store cannot be reached',
    detail: 'This request was not acknowledged; send it again, with the same Idempotency-Key if it has one.',
  },
  full: {
    title: 'The disk of the store is nearly full',
    detail: 'Nothing of this request was kept. Retry later: events are accepted again once there is room.',
  },
};
