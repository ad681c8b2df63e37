/**
 * Gives what an iterator gives, and has the next one made while the last is being used. Who ends it early ends the iterator too,
 * once what it is making is made.
 */
export async function* oneAhead<Item>(items: AsyncGenerator<Item, void>): AsyncGenerator<Item, void> {
  let coming = begin(items);
  try {
    for (;;) {
      const item = await coming;
      if (item.done) return;
      coming = begin(items);
      yield item.value;
    }
  } finally {
    await items.return();
  }
}

/** The next item; that it fails is seen when it is asked for, or nobody wants to know any more. */
function begin<Item>(items: AsyncGenerator<Item, void>): Promise<IteratorResult<Item, void>> {
  const coming = items.next();
  coming.catch(() => {});
  return coming;
}
