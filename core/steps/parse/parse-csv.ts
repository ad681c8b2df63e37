import { array, object, string } from 'yup';
import { readCsvLine, separatorByte } from '../../formats/csv.ts';
import { holeTypes } from '../../templates/hole-types.ts';
import { checkMade } from '../names.ts';
import { FailureCollector, type StepKind, stepResult } from '../step.ts';
import { eachText, MadeAttributes } from '../texts.ts';

export interface ParseCsvOptions {
  readonly from: string;
  /** Names in order, each with a type behind a colon where it is no text; `-` skips a value. */
  readonly columns: string[];
  /** One character, or `tab`; a comma when it is not given. */
  readonly separator?: string | undefined;
}

interface Column {
  readonly name: string;
  readonly type: string;
}

function columnOf(text: string): Column {
  const colon = text.lastIndexOf(':');
  return colon < 0
    ? { name: text.trim(), type: 'text' }
    : { name: text.slice(0, colon).trim(), type: text.slice(colon + 1).trim() };
}

/** Cuts lines of separated values into fields. */
export const parseCsv: StepKind<ParseCsvOptions> = {
  kind: 'parse-csv',
  title: 'Parse CSV',
  help: 'Cuts a line of separated values (RFC 4180) into the columns you name; a type follows a colon, such as height:number, and - skips a value. A line with more or fewer values than columns fails the step.',
  schema: object({
    from: string().required().default('body'),
    columns: array(string().required()).min(1).max(200).required(),
    separator: string().matches(/^(.|tab)$/, 'a separator is one character, or tab'),
  }).noUnknown(),
  check: ({ columns }) =>
    columns.flatMap((text, index) => {
      const { name, type } = columnOf(text);
      const path = `columns[${index}]`;
      if (name === '-') return [];
      if (name === '') return [{ path, message: 'a column has no name' }];
      if (!holeTypes.has(type) || type === 'pairs') return [{ path, message: `there is no type ${type}` }];
      return checkMade(name, path);
    }),
  describe: ({ from, columns }) => `parse ${from} as CSV with ${columns.length} columns`,
  makes: ({ columns }) => columns.map((text) => columnOf(text).name).filter((name) => name !== '-'),
  reads: ({ from }) => [from],
  example: {
    options: { from: 'body', columns: ['gauge', '-', 'height:number'] },
    input: 'tide-2,"a, b",1.72',
    expect: { gauge: 'tide-2', height: 1.72 },
  },
  compile: (options) => {
    const separator = separatorByte(options.separator);
    const columns = options.columns.map((text) => {
      const { name, type } = columnOf(text);
      return { name, type: holeTypes.get(type) };
    });
    return (batch, rows) => {
      const made = new MadeAttributes(batch.rows);
      const slots = columns.map(({ name, type }) => (name === '-' ? undefined : made.get(name, type?.unit)));
      const failures = new FailureCollector(batch.rows);
      const parsed = batch.parsed.slice();
      eachText(
        batch,
        options.from,
        rows,
        (row, bytes, start, end) => {
          let count = 0;
          let wrong = readCsvLine(bytes, start, end, separator, (index, text, from, to) => {
            count++;
            const column = columns[index];
            const slot = slots[index];
            if (!column || !slot || to === from) return;
            if (!column.type?.read) {
              slot.setText(row, text, from, to);
              return;
            }
            const value = column.type.read(text, from, to, batch.received[row] as number);
            if (value === value) slot.setNumber(row, value);
            else failures.add(row, `${column.name} is no ${column.type.name}`);
          });
          if (count !== columns.length) wrong ??= `there are ${count} values instead of ${columns.length}`;
          if (wrong === undefined) parsed[row] = 1;
          else failures.add(row, wrong);
        },
        (row) => failures.add(row, `there is no ${options.from}`),
      );
      return stepResult({ ...made.into(batch, failures.passed(rows)), parsed }, failures);
    };
  },
};
