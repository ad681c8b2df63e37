/** Orders items so that every group has its first item before any group has its second, and so on. */
export function byTurns<Item>(items: readonly Item[], groupOf: (item: Item) => string): readonly Item[] {
  const turns = new Map<string, number>();
  return items
    .map((item) => {
      const group = groupOf(item);
      const turn = turns.get(group) ?? 0;
      turns.set(group, turn + 1);
      return { item, turn };
    })
    .sort((a, b) => a.turn - b.turn)
    .map(({ item }) => item);
}
