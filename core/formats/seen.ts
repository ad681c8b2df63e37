import { encode } from '../events/text-table.ts';
import type { Format } from './format.ts';
import { detect } from './read.ts';

/** A format that some lines are in, with the share of them (0 to 1). */
export interface SeenFormat {
  readonly id: string;
  readonly title: string;
  readonly share: number;
}

/** The format that a line looks like, by itself. */
export function formatOf(line: string): Format {
  const bytes = encode(line);
  return detect(bytes, 0, bytes.length);
}

/** The formats that some lines look like, each line by itself, the commonest first. */
export function formatsSeen(lines: readonly string[]): readonly SeenFormat[] {
  const counts = new Map<string, { title: string; count: number }>();
  for (const line of lines) {
    const { id, title } = formatOf(line);
    const count = counts.get(id);
    if (count) count.count++;
    else counts.set(id, { title, count: 1 });
  }
  return [...counts]
    .map(([id, { title, count }]) => ({ id, title, share: count / lines.length }))
    .sort((a, b) => b.share - a.share);
}
