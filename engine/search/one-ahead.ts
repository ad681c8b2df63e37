/**
 * Prefetches one item: the next one is produced while the current one is used. Ending early also ends `items`, after the item
 * that is being produced.
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

/** Starts the next item. A failure is thrown when the item is awaited, and must not count as unhandled before that. */
function begin<Item>(items: AsyncGenerator<Item, void>): Promise<IteratorResult<Item, void>> {
  const coming = items.next();
  coming.catch(() => {});
  return coming;
}
