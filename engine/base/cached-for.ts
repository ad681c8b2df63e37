/**
 * Gives the same answer again for a while (milliseconds): every open screen asks every few seconds for what takes the store
 * some work. A failure is not given again.
 */
export function cachedFor<Value>(
  freshFor: number,
  make: (now: number) => Promise<Value>,
): (now: number) => Promise<Value> {
  const cached = cachedBy(
    freshFor,
    () => 0,
    (_: undefined, now) => make(now),
  );
  return (now) => cached(undefined, now);
}

/** As {@link cachedFor}, for what is asked with something: only while its key is the same the same answer is given. */
export function cachedBy<Given, Value>(
  freshFor: number,
  keyOf: (given: Given) => unknown,
  make: (given: Given, now: number) => Promise<Value>,
): (given: Given, now: number) => Promise<Value> {
  let last: { readonly at: number; readonly key: unknown; readonly answer: Promise<Value> } | undefined;
  return async (given, now) => {
    const key = keyOf(given);
    if (!last || last.key !== key || now - last.at > freshFor) {
      const answer = make(given, now);
      last = { at: now, key, answer };
      answer.catch(() => {
        // Another one may have been asked for meanwhile.
        if (last?.answer === answer) last = undefined;
      });
    }
    return await last.answer;
  };
}
