import { distance } from 'fastest-levenshtein';

/**
 * The known name most like `name` (by the fewest letters changed, added or taken away), when it may be a slip of the hand;
 * else the shortest that has it among its words.
 */
export function nearest(name: string, known: readonly string[]): string | undefined {
  const wanted = name.toLowerCase();
  let best: string | undefined;
  let least = Math.max(1, Math.floor(name.length / 3)) + 1;
  for (const candidate of known) {
    // Lengths that differ by that much need as many changes.
    if (Math.abs(candidate.length - wanted.length) >= least) continue;
    const changes = distance(wanted, candidate.toLowerCase());
    if (changes >= least) continue;
    least = changes;
    best = candidate;
  }
  return best ?? withWord(wanted, known);
}

/** The shortest name of which a text is one of the words, between dots, lines and dashes. */
function withWord(word: string, known: readonly string[]): string | undefined {
  const having = known.filter((name) => name.toLowerCase().split(/[._-]/).includes(word));
  return having.sort((a, b) => a.length - b.length)[0];
}
