/**
 * Gives the same answer again for a while (milliseconds): every open screen asks every few seconds for what takes the store
 * some work. A failure is not given again.
 */
export function cachedFor<Value>(
  freshFor: number,
  make: (now: number) => Promise<Value>,
): (now: number) => Promise<Value> {
  let last: { readonly at: number; readonly answer: Promise<Value> } | undefined;
  return async (now) => {
    if (!last || now - last.at > freshFor) {
      const answer = make(now);
      last = { at: now, answer };
      answer.catch(() => {
        last = undefined;
      });
    }
    return await last.answer;
  };
}
