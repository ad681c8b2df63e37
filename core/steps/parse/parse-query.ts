import { object, string } from 'yup';
import { FailureCollector, type StepKind, stepResult } from '../step.ts';
import { below, eachDistinct, MadeAttributes, mostNames } from '../texts.ts';

export interface ParseQueryOptions {
  readonly from: string;
  readonly under?: string | undefined;
}

/** Reads the query of an address. */
export const parseQuery: StepKind<ParseQueryOptions> = {
  kind: 'parse-query',
  title: 'Parse query string',
  help: 'Reads what follows the ? of an address (RFC 3986), or a text that is such a query as a whole, into fields under “query” or another name. Escapes such as %20 are resolved; of a name that comes twice the last value stays. An address without a query is left alone.',
  schema: object({ from: string().required().default('path'), under: string().default('query') }).noUnknown(),
  describe: ({ from, under }) => `parse the query in ${from} into ${under}.…`,
  makes: () => [],
  reads: ({ from }) => [from],
  example: {
    options: { from: 'path', under: 'query' },
    input: '{"path":"/sailings?port=Gannet%20Bay&day=2"}',
    expect: { 'query.port': 'Gannet Bay', 'query.day': '2' },
  },
  compile: (options) => (batch, rows) => {
    const made = new MadeAttributes(batch.rows);
    const failures = new FailureCollector(batch.rows);
    eachDistinct(
      batch,
      options.from,
      rows,
      queryOf,
      (row, pairs) => {
        for (const [key, value] of pairs) {
          const name = below(options.under, key);
          if (made.has(name) || made.count < mostNames) made.get(name).setString(row, value);
          else failures.add(row, `more than ${mostNames} different names`);
        }
      },
      () => {},
    );
    return stepResult(made.into(batch, failures.passed(rows)), failures);
  },
};

function queryOf(text: string): readonly (readonly [string, string])[] {
  const mark = text.indexOf('?');
  const query = mark >= 0 ? text.slice(mark + 1) : text.startsWith('/') || text.includes('://') ? '' : text;
  return [...new URLSearchParams(query.split('#', 1)[0])].filter(([key]) => key !== '');
}
