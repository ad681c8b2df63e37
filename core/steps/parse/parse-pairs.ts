import { object, string } from 'yup';
import { decode } from '../../events/text-table.ts';
import { readPairs } from '../../templates/pairs.ts';
import { FailureCollector, type StepKind, stepResult } from '../step.ts';
import { below, eachText, MadeAttributes, mostNames } from '../texts.ts';

export interface ParsePairsOptions {
  readonly from: string;
  readonly under?: string | undefined;
}

/** Reads `name=value` pairs. */
export const parsePairs: StepKind<ParsePairsOptions> = {
  kind: 'parse-pairs',
  title: 'Parse pairs',
  help: 'Reads name=value pairs, values with blanks in double quotes, as many services write them. Words that are no pair are passed over; a line without any pair fails the step. Values stay text: convert those that are numbers or durations.',
  schema: object({ from: string().required().default('body'), under: string() }).noUnknown(),
  describe: ({ from, under }) => `parse pairs in ${from}${under ? ` into ${under}.…` : ''}`,
  makes: () => [],
  reads: ({ from }) => [from],
  example: {
    options: { from: 'body' },
    input: 'level=warn msg="berth assigned" berth=3',
    expect: { level: 'warn', msg: 'berth assigned', berth: '3' },
  },
  compile: (options) => (batch, rows) => {
    const made = new MadeAttributes(batch.rows);
    const failures = new FailureCollector(batch.rows);
    const parsed = batch.parsed.slice();
    const names = new Map<string, string>();
    eachText(
      batch,
      options.from,
      rows,
      (row, bytes, start, end) => {
        let pairs = 0;
        let left = 0;
        readPairs(bytes, start, end, (nameStart, nameEnd, valueStart, valueEnd) => {
          const key = decode(bytes, nameStart, nameEnd);
          let name = names.get(key);
          if (name === undefined) {
            if (names.size >= mostNames) {
              left++;
              return;
            }
            names.set(key, (name = below(options.under, key)));
          }
          pairs++;
          const escaped = bytes.subarray(valueStart, valueEnd).includes(92);
          if (!escaped) made.get(name).setText(row, bytes, valueStart, valueEnd);
          else made.get(name).setString(row, decode(bytes, valueStart, valueEnd).replace(/\\(["\\])/g, '$1'));
        });
        if (pairs > 0) parsed[row] = 1;
        else failures.add(row, left > 0 ? `more than ${mostNames} different names` : `${options.from} has no pairs`);
      },
      (row) => failures.add(row, `there is no ${options.from}`),
    );
    return stepResult({ ...made.into(batch, failures.passed(rows)), parsed }, failures);
  },
};
