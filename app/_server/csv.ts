import type { Answers } from '#core/answers/index.ts';
import { costsCsv } from '#core/views/costs-csv.ts';
import { metricCsv } from '#core/views/metric-csv.ts';
import { talkersCsv } from '#core/views/talkers-csv.ts';

/** The input of an operation as it was given. */
type Inputs = Readonly<Record<string, unknown>>;

/** Write answers as CSV. */
type CsvWriters = {
  readonly [Name in keyof Answers]?: (answer: Answers[Name], input: Inputs) => string;
};

/** The answers that are also given as CSV, to those who accept that. */
const csvWriters: CsvWriters = {
  costs: (answer, { by = 'source' }) => costsCsv(answer, String(by).split(',')),
  metric: metricCsv,
  ranking: talkersCsv,
};

/** How an operation's answer is written as CSV; undefined where it is not. */
export function csvWriterOf(name: string): ((answer: unknown, input: Inputs) => string) | undefined {
  const writer = Object.entries(csvWriters).find(([known]) => known === name)?.[1];
  // An engine answers what the operation declares.
  return writer as ((answer: unknown, input: Inputs) => string) | undefined;
}
