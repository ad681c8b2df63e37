import { closeSync, openSync, readSync, statSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { resolve } from 'node:path';
import { Piscina } from 'piscina';
import type { FilterResult, FilterTask } from '../workers/filter.ts';

/** Looks through files of JSON lines with all cores. */
export interface FileFilter {
  /** The lines of a file that a checked condition picks, in order, or only how many there are. */
  readonly run: (file: string, condition: string, lines: boolean) => Promise<FilterResult>;
  readonly close: () => Promise<void>;
}

/** Longest line that an edge between two stretches may fall into. */
const longestLine = 1_000_000;

/** Starts the threads; `folder` holds the built workers. */
export function openFileFilter(folder: string): FileFilter {
  const threads = availableParallelism();
  const pool = new Piscina<FilterTask, FilterResult>({
    filename: resolve(folder, 'filter.js'),
    minThreads: threads,
    maxThreads: threads,
  });
  return {
    run: async (file, condition, lines) => {
      const edges = lineEdges(file, threads);
      const parts = await Promise.all(
        edges.slice(1).map((to, i) => pool.run({ file, from: edges[i] as number, to, condition, lines })),
      );
      return {
        found: parts.reduce((sum, part) => sum + part.found, 0),
        lines: parts.flatMap((part) => part.lines),
      };
    },
    close: () => pool.destroy(),
  };
}

/** Offsets that cut a file into stretches of about equal length, each at the beginning of a line. */
function lineEdges(file: string, parts: number): readonly number[] {
  const { size } = statSync(file);
  const descriptor = openSync(file, 'r');
  const buffer = Buffer.alloc(Math.min(longestLine, size));
  const edges = [0];
  for (let i = 1; i < parts; i++) {
    const at = Math.floor((size * i) / parts);
    const length = readSync(descriptor, buffer, 0, buffer.length, at);
    const feed = buffer.subarray(0, length).indexOf(10);
    const edge = feed < 0 ? size : at + feed + 1;
    if (edge > (edges[edges.length - 1] as number) && edge < size) edges.push(edge);
  }
  closeSync(descriptor);
  return [...edges, size];
}
