/** Which of the found events are wanted where more are found than are shown. */
export type SearchOrder = 'newest' | 'oldest';

export const searchOrders = ['newest', 'oldest'] as const satisfies readonly SearchOrder[];

/**
 * A time as a search compares it, the greatest wanted first. The oldest events are the newest in mirrored time, so that
 * all that finds the newest finds them too.
 */
export function inOrder(order: SearchOrder, time: number): number {
  return order === 'newest' ? time : -time;
}
