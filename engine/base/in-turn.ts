import pLimit from 'p-limit';
import { StoreFault } from '#store/fault.ts';

const attempts = 4;
const turns = pLimit(1);

/**
 * Makes a change, a transaction that begins by counting itself, after those that this engine is making: so none waits for another
 * with a connection in hand that the other one needs. Of several engines the store has them wait, by what they count.
 * Again where a transaction of someone else was in the way.
 */
export async function inTurn<Value>(change: () => Promise<Value>): Promise<Value> {
  for (let attempt = 1; ; attempt++) {
    try {
      return await turns(change);
    } catch (error) {
      const isBusy = error instanceof StoreFault && error.kind === 'busy';
      if (!isBusy || attempt >= attempts) throw error;
    }
  }
}
