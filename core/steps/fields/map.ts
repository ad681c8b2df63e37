import { mixed, object, string } from 'yup';
import { checkMade } from '../names.ts';
import { FailureCollector, type StepKind, stepResult } from '../step.ts';
import { eachDistinct, MadeAttributes } from '../texts.ts';

export interface MapOptions {
  readonly from: string;
  /** Name of a table that was uploaded: its first column is compared with the field. */
  readonly table?: string | undefined;
  /** Or the values themselves, for a few. */
  readonly values?: Readonly<Record<string, string>> | undefined;
  /** With `values`: the field that gets the value found. With a table: all its other columns become fields. */
  readonly to?: string | undefined;
  /** What a value gets that is not found; without it the step fails for such an event. */
  readonly otherwise?: string | undefined;
}

type Found = readonly (readonly [name: string, value: string])[] | undefined;

/** Looks a field up in a table. */
export const map: StepKind<MapOptions> = {
  kind: 'map',
  title: 'Map by table',
  help: 'Looks the value of a field up, in any case: among a few values written here, or in a table that was uploaded as CSV (up to 4 MB and 100,000 rows), whose other columns become fields. A table is taken up again within seconds after it was changed, without publishing. A value that is not found gets the value for all others, or the step fails for that event.',
  schema: object({
    from: string().required(),
    table: string().matches(/^[a-z0-9][a-z0-9-]{0,62}$/, 'a table name is made of small letters, digits and dashes'),
    values: mixed<Readonly<Record<string, string>>>(
      (value): value is Readonly<Record<string, string>> =>
        typeof value === 'object' && value !== null && Object.values(value).every((word) => typeof word === 'string'),
    ),
    to: string(),
    otherwise: string(),
  }).noUnknown(),
  check: ({ table, values, to }) => {
    if ((table === undefined) === (values === undefined))
      return [{ path: 'table', message: 'a map needs either a table or values' }];
    if (values !== undefined && !to) return [{ path: 'to', message: 'the field that gets the value is missing' }];
    return to ? checkMade(to, 'to') : [];
  },
  describe: ({ from, table, to }) => (table ? `look ${from} up in the table ${table}` : `map ${from} to ${to}`),
  makes: ({ to }) => (to ? [to] : []),
  reads: ({ from }) => [from],
  example: {
    options: { from: 'code', values: { SKV: 'Skerryvoe', TRN: 'Tarnholm' }, to: 'port', otherwise: 'elsewhere' },
    input: '{"code":"trn"}',
    expect: { port: 'Tarnholm' },
  },
  compile: (options, resources) => {
    const words = new Map(Object.entries(options.values ?? {}).map(([key, value]) => [key.toLowerCase(), value]));
    return (batch, rows) => {
      const table = options.table === undefined ? undefined : resources.table(options.table);
      const [, ...columns] = table?.columns ?? [];
      const names = options.to ? [options.to] : columns;
      const other = options.otherwise;
      const find = (text: string): Found => {
        const value = words.get(text.toLowerCase());
        if (value !== undefined) return [[options.to as string, value]];
        const row = table?.find(text);
        if (row && options.to) return [[options.to, row[1] as string]];
        if (row) return columns.map((name, i) => [name, row[i + 1] as string] as const);
        return other === undefined ? undefined : names.map((name) => [name, other] as const);
      };
      const made = new MadeAttributes(batch.rows);
      const failures = new FailureCollector(batch.rows);
      const missing = options.table !== undefined && !table ? `there is no table ${options.table}` : undefined;
      eachDistinct(
        batch,
        options.from,
        rows,
        find,
        (row, found) => {
          if (!found) failures.add(row, missing ?? `${options.from} is not in the table`);
          else for (const [name, value] of found) if (value !== '') made.get(name).setString(row, value);
        },
        (row) => failures.add(row, `there is no ${options.from}`),
      );
      return stepResult(made.into(batch, failures.passed(rows)), failures);
    };
  },
};
