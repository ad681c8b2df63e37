/** A share (0 to 1) of some items, evenly spread over all of them; none where the share is smaller than one item. */
export function evenShare<Item>(items: readonly Item[], share: number): readonly Item[] {
  if (share >= 1) return items;
  // An item is taken each time the share adds up to a whole.
  return items.filter((_, index) => Math.floor((index + 1) * share) > Math.floor(index * share));
}
