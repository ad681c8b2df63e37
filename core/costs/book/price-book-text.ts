import { stringify } from 'yaml';
import { readYaml, type TextProblem } from '../../input/read-yaml.ts';
import { checkPriceBook, type KnownNames } from './check-price-book.ts';
import type { PriceBook } from './price-book.ts';

export type ReadPriceBook =
  | { readonly ok: true; readonly book: PriceBook }
  | { readonly ok: false; readonly problems: readonly TextProblem[] };

/** A price book as YAML. */
export function writePriceBook(book: PriceBook): string {
  return stringify(book, { lineWidth: 0 });
}

/** Reads a price book from YAML (or JSON) and checks it; every fault is named with its place. */
export function readPriceBook(text: string, names: KnownNames = {}): ReadPriceBook {
  const read = readYaml(text);
  if ('problems' in read) return { ok: false, problems: read.problems };
  const checked = checkPriceBook(read.value, names);
  if (checked.ok) return checked;
  return { ok: false, problems: checked.problems.map((problem) => ({ ...problem, ...read.placeOf(problem.path) })) };
}
