import { LRUCache } from 'lru-cache';
import { compilePattern, type Pattern } from './pattern.ts';

/** Globs compiled lately: a pattern learns its automaton as it runs, so the same one is used for every batch. */
const compiled = new LRUCache<string, Pattern>({ max: 500 });

/** A text in which `*` stands for any run of characters, matched against the whole text in any case. */
export function compileGlob(glob: string): Pattern {
  let pattern = compiled.get(glob);
  if (!pattern) {
    pattern = build(glob);
    compiled.set(glob, pattern);
  }
  return pattern;
}

function build(glob: string): Pattern {
  const source = glob
    .split('*')
    .map((piece) => piece.replace(/[.*+?^${}()|[\]\\/]/g, '\\$&'))
    .join('(?:.|\\n)*');
  return compilePattern(`^${source}$`, 'i');
}
