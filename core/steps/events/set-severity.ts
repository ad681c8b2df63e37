import { mixed, object, string } from 'yup';
import { severityFromText } from '../../events/severity.ts';
import { decode } from '../../events/text-table.ts';
import { FailureCollector, type StepKind } from '../step.ts';
import { eachText, without } from '../texts.ts';

export interface SetSeverityOptions {
  readonly from: string;
  /** Severity words by value of the field, where the value is no usual word itself; `*` stands for all others. */
  readonly map?: Readonly<Record<string, string>> | undefined;
}

/** Takes the severity of an event from one of its fields, which is then taken out. */
export const setSeverity: StepKind<SetSeverityOptions> = {
  kind: 'set-severity',
  title: 'Take severity from',
  help: 'Takes the severity from a field, by the usual words (info, WARN, E …) or by a map of values to words. The field is removed where it was understood.',
  schema: object({
    from: string().required(),
    map: mixed<Readonly<Record<string, string>>>(
      (value): value is Readonly<Record<string, string>> =>
        typeof value === 'object' && value !== null && Object.values(value).every((word) => typeof word === 'string'),
    ),
  }).noUnknown(),
  check: (options) =>
    Object.entries(options.map ?? {})
      .filter(([, word]) => severityFromText(word) === 0)
      .map(([value, word]) => ({ path: `map.${value}`, message: `${word} is no severity` })),
  describe: (options) => `take the severity from ${options.from}`,
  makes: () => [],
  reads: (options) => [options.from],
  example: {
    options: { from: 'code', map: { R: 'error', '*': 'info' } },
    input: '{"code":"R"}',
    expect: { severity: 'error', code: null },
  },
  compile: (options) => {
    const map = new Map(
      Object.entries(options.map ?? {}).map(([value, word]) => [value.toLowerCase(), severityFromText(word)]),
    );
    const others = map.get('*') ?? 0;
    return (batch, rows) => {
      const severity = batch.severity.slice();
      const failures = new FailureCollector(batch.rows);
      const done = new Uint8Array(batch.rows);
      const known = new Map<string, number>();
      eachText(
        batch,
        options.from,
        rows,
        (row, bytes, start, end) => {
          const text = decode(bytes, start, end);
          let value = known.get(text);
          if (value === undefined)
            known.set(text, (value = map.get(text.toLowerCase()) ?? (severityFromText(text) || others)));
          if (value === 0) failures.add(row, `${options.from} is no severity`);
          else {
            severity[row] = value;
            done[row] = 1;
          }
        },
        (row) => failures.add(row, `there is no ${options.from}`),
      );
      const attributes = new Map(batch.attributes);
      const columns = batch.attributes.get(options.from);
      const left = columns && without(columns, done);
      if (left) attributes.set(options.from, left);
      else attributes.delete(options.from);
      const result = { ...batch, severity, attributes };
      return failures.failures ? { batch: result, failures: failures.failures } : { batch: result };
    };
  },
};
