import { object, string } from 'yup';
import { maxAhead, maxBehind } from '../../events/batch-builder.ts';
import { compileTimePattern, zoneOffset } from '../../events/time-pattern.ts';
import { timeFromEpoch } from '../../events/times.ts';
import { holeTypes } from '../../templates/hole-types.ts';
import { FailureCollector, type StepKind } from '../step.ts';
import { eachText, without } from '../texts.ts';

export interface SetTimeOptions {
  readonly from: string;
  /** `iso`, `clf`, `epoch`, `epoch-ms`, `syslog`, `time`, or a pattern such as `dd.MM.yyyy HH:mm:ss`. */
  readonly format?: string | undefined;
  /** The zone of times that tell none: `+02:00` or an IANA name; UTC when it is not given. */
  readonly zone?: string | undefined;
}

type ReadTime = (bytes: Uint8Array, start: number, end: number, reference: number) => number;

const timeFormats = new Set([...holeTypes.values()].filter((type) => type.gives === 'time').map((type) => type.name));

/** Year-less syslog time and ISO without an offset, as patterns, for zones other than UTC. */
const patternOf: Readonly<Record<string, string>> = { syslog: 'MMM d HH:mm:ss' };

function readerOf({ format = 'iso', zone }: SetTimeOptions): ReadTime | string {
  const pattern = timeFormats.has(format) ? (zone ? patternOf[format] : undefined) : format;
  if (pattern !== undefined) {
    const compiled = compileTimePattern(pattern, zone);
    return compiled.ok ? compiled.read : compiled.message;
  }
  const read = holeTypes.get(format)?.read ?? (() => Number.NaN);
  if (!zone || format !== 'iso') return read;
  const offset = zoneOffset(zone);
  if (!offset) return `${zone} is not a time zone`;
  return (bytes, start, end, reference) => {
    const time = read(bytes, start, end, reference);
    return tellsOffset(bytes, start, end) ? time : time - offset(time) * 60_000;
  };
}

/** Whether an ISO time ends with an offset: Z, or a sign behind the date. */
function tellsOffset(bytes: Uint8Array, start: number, end: number): boolean {
  const last = (bytes[end - 1] as number) | 32;
  if (last === 122) return true;
  for (let at = start + 11; at < end; at++) if (bytes[at] === 43 || bytes[at] === 45) return true;
  return false;
}

/** Takes the time of an event from one of its fields, which is then no longer needed and taken out. */
export const setTime: StepKind<SetTimeOptions> = {
  kind: 'set-time',
  title: 'Take time from',
  help: 'Takes the time of the event from a field and removes the field. Formats: iso, clf (web access lines), epoch, epoch-ms, syslog (without a year), time (any of the usual ways), or a pattern such as dd.MM.yyyy HH:mm:ss; a zone counts where the time tells none. A time more than a day ahead of the arrival, or more than 400 days behind it, is not believed: the step fails for that event and the time of arrival stays.',
  schema: object({ from: string().required(), format: string().max(60), zone: string().max(60) }).noUnknown(),
  check: (options) => {
    const reader = readerOf(options);
    return typeof reader === 'string' ? [{ path: 'format', message: reader }] : [];
  },
  describe: (options) => `take the time from ${options.from}`,
  makes: () => [],
  reads: ({ from }) => [from],
  example: {
    options: { from: 'at', format: 'dd.MM.yyyy HH:mm', zone: '+02:00' },
    input: '{"at":"24.11.2026 10:30"}',
    expect: { time: '2026-11-24T08:30:00.000Z', at: null },
  },
  compile: (options) => (batch, rows) => {
    const read = readerOf(options);
    if (typeof read === 'string') throw new Error(read);
    const time = Float64Array.from(batch.time);
    const failures = new FailureCollector(batch.rows);
    const done = new Uint8Array(batch.rows);
    const set = (row: number, value: number): void => {
      const received = batch.received[row] as number;
      if (value !== value) failures.add(row, `${options.from} is not a time`);
      else if (value > received + maxAhead || value < received - maxBehind) {
        failures.add(row, `${options.from} lies too far from the arrival`);
      } else {
        time[row] = value;
        done[row] = 1;
      }
    };
    const columns = batch.attributes.get(options.from);
    const numbers = columns?.number?.values;
    const asText = rows.slice();
    if (numbers) {
      for (let row = 0; row < rows.length; row++) {
        const value = numbers[row] as number;
        if (rows[row] === 0 || value !== value) continue;
        asText[row] = 0;
        set(row, timeFromEpoch(value));
      }
    }
    eachText(
      batch,
      options.from,
      asText,
      (row, bytes, start, end) => set(row, read(bytes, start, end, batch.received[row] as number)),
      (row) => failures.add(row, `there is no ${options.from}`),
    );
    const attributes = new Map(batch.attributes);
    const left = columns && without(columns, done);
    if (left) attributes.set(options.from, left);
    else attributes.delete(options.from);
    const result = { ...batch, time, attributes };
    return failures.failures ? { batch: result, failures: failures.failures } : { batch: result };
  },
};
