import { object, string } from 'yup';
import { readAddress } from '../../events/address.ts';
import { AttributeBuilder } from '../../events/batch-builder.ts';
import { readNumber } from '../../events/numbers.ts';
import { decode } from '../../events/text-table.ts';
import { parseQuantity } from '../../events/units.ts';
import { formatPlace, parsePlace } from '../../places/place.ts';
import { FailureCollector, type StepKind } from '../step.ts';
import { eachText, unitOfType, withMade } from '../texts.ts';

const types = ['text', 'number', 'int', 'flag', 'duration', 'size', 'ip', 'place'] as const;

const numeric: ReadonlySet<string> = new Set(['number', 'int', 'duration', 'size']);

export interface ConvertOptions {
  readonly field: string;
  readonly to: (typeof types)[number];
  /** The unit of plain numbers, for durations and sizes: `ms`, `MB`. Seconds and bytes when not given. */
  readonly unit?: string | undefined;
}

type Read = (bytes: Uint8Array, start: number, end: number) => number | boolean | string | undefined;

function reader(options: ConvertOptions): Read {
  const unit = unitOfType(options.to);
  const factor = options.unit ? (parseQuantity(`1${options.unit}`)?.value ?? 1) : 1;
  if (options.to === 'ip') return (bytes, start, end) => readAddress(decode(bytes, start, end));
  if (options.to === 'place') {
    return (bytes, start, end) => {
      const place = parsePlace(decode(bytes, start, end));
      return place && formatPlace(place.latitude, place.longitude);
    };
  }
  if (options.to === 'flag') {
    return (bytes, start, end) => {
      const text = decode(bytes, start, end).toLowerCase();
      if (/^(true|yes|on|1)$/.test(text)) return true;
      return /^(false|no|off|0)$/.test(text) ? false : undefined;
    };
  }
  return (bytes, start, end) => {
    const plain = readNumber(bytes, start, end);
    if (plain === plain) return options.to === 'int' ? Math.trunc(plain) : plain * factor;
    if (unit === 'none') return undefined;
    const quantity = parseQuantity(decode(bytes, start, end));
    return quantity?.unit === unit ? quantity.value : undefined;
  };
}

/** Declares the type of a field and converts its values. */
export const convert: StepKind<ConvertOptions> = {
  kind: 'convert',
  title: 'Convert',
  help: 'Declares what a field is (number, int, flag, duration, size, ip, place or text) and converts its values. An int loses its fraction. A place is latitude and longitude in degrees, such as 58.96,-3.29. A value that does not convert stays as it was and the step fails for that event.',
  schema: object({ field: string().required(), to: string().oneOf(types).required(), unit: string() }).noUnknown(),
  check: (options) => {
    if (options.unit === undefined) return [];
    const unit = parseQuantity(`1${options.unit}`)?.unit;
    if (unit !== undefined && unit !== 'none' && unit === unitOfType(options.to)) return [];
    return [{ path: 'unit', message: `${options.unit} is no unit of a ${options.to}` }];
  },
  describe: (options) => `convert ${options.field} to ${options.to}`,
  makes: (options) => [options.field],
  reads: (options) => [options.field],
  example: { options: { field: 'took', to: 'duration', unit: 'ms' }, input: '{"took":"250"}', expect: { took: 0.25 } },
  compile: (options) => {
    const read = reader(options);
    return (batch, rows) => {
      const made = new AttributeBuilder(batch.rows, unitOfType(options.to));
      const done = new Uint8Array(batch.rows);
      const failures = new FailureCollector(batch.rows);
      const convertOne = (row: number, bytes: Uint8Array, start: number, end: number): void => {
        const value = options.to === 'text' ? undefined : read(bytes, start, end);
        if (options.to === 'text') made.setText(row, bytes, start, end);
        else if (value === undefined) {
          failures.add(row, `${options.field} is no ${options.to}`);
          return;
        } else if (typeof value === 'number') made.setNumber(row, value);
        else if (typeof value === 'string') made.setString(row, value);
        else made.setFlag(row, value);
        done[row] = 1;
      };
      const columns = batch.attributes.get(options.field);
      if (!columns) return { batch };
      // Numbers stay numbers: no need to go through text.
      const numbers = columns.number?.values;
      const factor = options.unit ? (parseQuantity(`1${options.unit}`)?.value ?? 1) : 1;
      const asText = rows.slice();
      if (numbers && numeric.has(options.to)) {
        for (let row = 0; row < rows.length; row++) {
          const value = numbers[row] as number;
          if (rows[row] === 0 || value !== value) continue;
          made.setNumber(row, options.to === 'int' ? Math.trunc(value) : value * factor);
          done[row] = 1;
          asText[row] = 0;
        }
      }
      eachText(batch, options.field, asText, convertOne, () => {});
      const result = withMade(batch, new Map([[options.field, made.columns(batch.rows)]]), done);
      return failures.failures ? { batch: result, failures: failures.failures } : { batch: result };
    };
  },
};
