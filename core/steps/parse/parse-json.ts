import { object, string } from 'yup';
import { decode } from '../../events/text-table.ts';
import { FailureCollector, type StepKind, stepResult } from '../step.ts';
import { below, eachText, MadeAttributes, mostNames } from '../texts.ts';

export interface ParseJsonOptions {
  readonly from: string;
  /** Put before the names of the fields, with a dot. */
  readonly under?: string | undefined;
}

/** Deepest nesting that becomes dotted names. */
const deepest = 16;

/** Reads JSON that is in a field or in the body. */
export const parseJson: StepKind<ParseJsonOptions> = {
  kind: 'parse-json',
  title: 'Parse JSON',
  help: 'Reads a JSON object (RFC 8259) that is in a field or in the body. Members become fields, nested ones with dots between their names; lists are kept as JSON text. Use it where a line holds JSON behind a prefix, or a field holds JSON as text; lines that are JSON as a whole are read without it.',
  schema: object({ from: string().required().default('body'), under: string() }).noUnknown(),
  describe: ({ from, under }) => `parse JSON in ${from}${under ? ` into ${under}.…` : ''}`,
  makes: () => [],
  reads: ({ from }) => [from],
  example: {
    options: { from: 'payload', under: 'order' },
    input: '{"payload":"{\\"ref\\":\\"SKL-10021\\",\\"seats\\":{\\"adult\\":2}}"}',
    expect: { 'order.ref': 'SKL-10021', 'order.seats.adult': 2 },
  },
  compile: (options) => (batch, rows) => {
    const made = new MadeAttributes(batch.rows);
    const failures = new FailureCollector(batch.rows);
    const parsed = batch.parsed.slice();
    const store = (row: number, value: unknown, name: string, depth: number): void => {
      if (value === null || value === undefined) return;
      if (typeof value === 'object' && !Array.isArray(value) && depth < deepest) {
        for (const [key, inner] of Object.entries(value))
          store(row, inner, name === '' ? below(options.under, key) : `${name}.${key}`, depth + 1);
        return;
      }
      if (!made.has(name) && made.count >= mostNames) {
        failures.add(row, `more than ${mostNames} different names`);
        return;
      }
      const attribute = made.get(name);
      if (typeof value === 'number') attribute.setNumber(row, value);
      else if (typeof value === 'boolean') attribute.setFlag(row, value);
      else attribute.setString(row, typeof value === 'string' ? value : JSON.stringify(value));
    };
    eachText(
      batch,
      options.from,
      rows,
      (row, bytes, start, end) => {
        const value = readObject(decode(bytes, start, end));
        if (value === undefined) failures.add(row, `${options.from} is no JSON object`);
        else {
          parsed[row] = 1;
          store(row, value, '', 0);
        }
      },
      (row) => failures.add(row, `there is no ${options.from}`),
    );
    return stepResult({ ...made.into(batch, failures.passed(rows)), parsed }, failures);
  },
};

function readObject(text: string): object | undefined {
  try {
    const value: unknown = JSON.parse(text);
    return typeof value === 'object' && value !== null && !Array.isArray(value) ? value : undefined;
  } catch {
    return undefined;
  }
}
