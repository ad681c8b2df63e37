import { readFileSync } from 'node:fs';
import { readPriceBook } from '#core/costs/book/price-book-text.ts';
import type { TextProblem } from '#core/input/read-yaml.ts';
import { tellProblems } from './tell-problems.ts';

/** What the application says of a price book. */
interface Answer {
  readonly text?: string | null;
  readonly title?: string;
  readonly detail?: string;
  readonly problems?: readonly TextProblem[];
}

/** Checks the price book of a file; names each fault with line and column. Returns the exit code. */
export function checkPrices(file: string): number {
  const read = readPriceBook(readFileSync(file, 'utf8'));
  if (!read.ok) return tellProblems(file, read.problems);
  console.log(`${file}: the price book is good; ${read.book.entries.length} entries.`);
  return 0;
}

/** Prints the price book of the application at `address`. Returns the exit code: 1 where there is none. */
export async function printPrices(address: string): Promise<number> {
  const answer: Answer = await (await fetch(new URL('/api/prices', address))).json();
  if (answer.text == null) {
    console.error(answer.detail ?? 'There is no price book yet.');
    return 1;
  }
  process.stdout.write(answer.text);
  return 0;
}

/** Puts the price book of a file in the place of the one at `address`. Returns the exit code. */
export async function savePrices(file: string, address: string): Promise<number> {
  const answer = await fetch(new URL('/api/prices', address), {
    method: 'PUT',
    headers: { 'content-type': 'application/json', origin: address },
    body: JSON.stringify({ text: readFileSync(file, 'utf8') }),
  });
  if (answer.ok) {
    console.log(`${file} is the price book now.`);
    return 0;
  }
  const { problems = [], detail = '' }: Answer = await answer.json();
  if (problems.length === 0) console.error(detail);
  return tellProblems(file, problems);
}
