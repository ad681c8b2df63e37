import protobuf from 'protobufjs';
import { BatchBuilder } from '../events/batch-builder.ts';
import { decode } from '../events/text-table.ts';
import type { ReadContext } from './format.ts';
import { checkOtlp } from './otlp-check.ts';
import type { AnyValue, KeyValue, LogRecord, LogsRequest } from './otlp-request.ts';
import type { ReadResult } from './read.ts';

/** The field numbers of opentelemetry/proto/logs/v1 and common/v1, release 1.x; unknown fields are skipped. */
const messages = protobuf.Root.fromJSON({
  nested: {
    Request: { fields: { resourceLogs: { rule: 'repeated', type: 'ResourceLogs', id: 1 } } },
    ResourceLogs: {
      fields: {
        resource: { type: 'Resource', id: 1 },
        scopeLogs: { rule: 'repeated', type: 'ScopeLogs', id: 2 },
      },
    },
    Resource: { fields: { attributes: { rule: 'repeated', type: 'KeyValue', id: 1 } } },
    ScopeLogs: {
      fields: {
        scope: { type: 'Scope', id: 1 },
        logRecords: { rule: 'repeated', type: 'LogRecord', id: 2 },
      },
    },
    Scope: { fields: { name: { type: 'string', id: 1 } } },
    LogRecord: {
      fields: {
        timeUnixNano: { type: 'fixed64', id: 1 },
        severityNumber: { type: 'int32', id: 2 },
        severityText: { type: 'string', id: 3 },
        body: { type: 'AnyValue', id: 5 },
        attributes: { rule: 'repeated', type: 'KeyValue', id: 6 },
        traceId: { type: 'bytes', id: 9 },
        spanId: { type: 'bytes', id: 10 },
        observedTimeUnixNano: { type: 'fixed64', id: 11 },
        eventName: { type: 'string', id: 12 },
      },
    },
    KeyValue: { fields: { key: { type: 'string', id: 1 }, value: { type: 'AnyValue', id: 2 } } },
    AnyValue: {
      oneofs: {
        value: {
          oneof: ['stringValue', 'boolValue', 'intValue', 'doubleValue', 'arrayValue', 'kvlistValue', 'bytesValue'],
        },
      },
      fields: {
        stringValue: { type: 'string', id: 1 },
        boolValue: { type: 'bool', id: 2 },
        intValue: { type: 'int64', id: 3 },
        doubleValue: { type: 'double', id: 4 },
        arrayValue: { type: 'ArrayValue', id: 5 },
        kvlistValue: { type: 'KeyValueList', id: 6 },
        bytesValue: { type: 'bytes', id: 7 },
      },
    },
    ArrayValue: { fields: { values: { rule: 'repeated', type: 'AnyValue', id: 1 } } },
    KeyValueList: { fields: { values: { rule: 'repeated', type: 'KeyValue', id: 1 } } },
    Response: { fields: { partialSuccess: { type: 'PartialSuccess', id: 1 } } },
    PartialSuccess: {
      fields: { rejectedLogRecords: { type: 'int64', id: 1 }, errorMessage: { type: 'string', id: 2 } },
    },
  },
});

const requestType = messages.lookupType('Request');
const responseType = messages.lookupType('Response');

/**
 * Most parts of a request: fields of all its messages as protobuf, objects and lists as JSON. An empty one takes two bytes as it is
 * sent, and some hundred once it is read.
 */
const mostParts = 6_000_000;

/** A request that is made up of more parts than one may have. */
export class TooManyParts extends Error {}

/** Reads texts as all other formats do: what is no UTF-8 becomes U+FFFD. Throws {@link TooManyParts}. */
class TextReader extends protobuf.Reader {
  private parts = 0;

  override tag(): number {
    if (++this.parts > mostParts) throw new TooManyParts();
    return super.tag();
  }

  override string(): string {
    const bytes = this.bytes();
    return decode(bytes, 0, bytes.length);
  }

  /** The library's name for the reading of texts that have to be UTF-8, as in proto3: a sender's slip is no reason to lose its request. */
  override stringVerify(): string {
    return this.string();
  }
}

/** The protobuf encoding of a request as its JSON mapping; throws when the bytes are no such message, and {@link TooManyParts}. */
export function decodeOtlp(bytes: Uint8Array): LogsRequest {
  const decoded = requestType.toObject(requestType.decode(new TextReader(bytes)), { longs: String, bytes: Array });
  return decoded as LogsRequest;
}

/** The protobuf encoding of a request; for senders and tests. */
export function encodeOtlp(request: LogsRequest): Uint8Array {
  return requestType.encode(requestType.fromObject(request)).finish();
}

/** The protobuf encoding of the answer to a request. */
export function encodeOtlpAnswer(rejected: number, message: string): Uint8Array {
  const answer = rejected > 0 ? { partialSuccess: { rejectedLogRecords: rejected, errorMessage: message } } : {};
  return responseType.encode(responseType.fromObject(answer)).finish();
}

/** A request as JSON; throws when the bytes are none, Yup's `ValidationError` with the path of what is wrong, and {@link TooManyParts}. */
export function parseOtlp(bytes: Uint8Array): LogsRequest {
  let parts = 0;
  for (const byte of bytes) if (byte === 123 || byte === 91) parts++;
  if (parts > mostParts) throw new TooManyParts();
  return checkOtlp(JSON.parse(new TextDecoder().decode(bytes)));
}

/** All log records of a request as one batch. The size of the request is spread over its events. */
export function readOtlp(source: string, request: LogsRequest, bytes: number, context: ReadContext): ReadResult {
  const count = countRecords(request);
  const builder = new BatchBuilder(source, Math.max(16, count));
  const size = count > 0 ? Math.max(1, Math.round(bytes / count)) : 0;
  for (const resource of request.resourceLogs ?? []) {
    for (const scope of resource.scopeLogs ?? []) {
      for (const record of scope.logRecords ?? []) {
        setAttributes(builder, resource.resource?.attributes ?? [], '');
        if (scope.scope?.name) builder.attribute('scope')?.setString(builder.row, scope.scope.name);
        readRecord(builder, record, context, size);
      }
    }
  }
  return {
    batch: builder.batch(),
    records: new Uint32Array(0),
    problems: [],
    rejected: 0,
    unreadable: undefined,
    attributesLeftOut: builder.attributesLeftOut,
    timesNotBelieved: builder.timesNotBelieved,
  };
}

/** How many log records a request holds. */
export function countRecords(request: LogsRequest): number {
  let count = 0;
  for (const resource of request.resourceLogs ?? []) {
    for (const scope of resource.scopeLogs ?? []) count += scope.logRecords?.length ?? 0;
  }
  return count;
}

function readRecord(builder: BatchBuilder, record: LogRecord, context: ReadContext, size: number): void {
  const time = milliseconds(record.timeUnixNano) || milliseconds(record.observedTimeUnixNano) || Number.NaN;
  builder.setTime(time);
  if (record.severityNumber) builder.setSeverity(record.severityNumber);
  const body = record.body ? plain(record.body) : undefined;
  if (body !== undefined) {
    const text = new TextEncoder().encode(typeof body === 'string' ? body : JSON.stringify(body));
    builder.setBody(text, 0, text.length);
  }
  setAttributes(builder, record.attributes ?? [], '');
  setId(builder, 'trace.id', record.traceId);
  setId(builder, 'span.id', record.spanId);
  if (record.eventName) builder.attribute('event.name')?.setString(builder.row, record.eventName);
  builder.commit(context.backfill && time === time ? time : context.received, size, true);
}

/** Nanoseconds since 1970, as a number or decimal text, in milliseconds; 0 when absent. */
function milliseconds(nanoseconds: string | number | undefined): number {
  return nanoseconds === undefined ? 0 : Math.floor(Number(nanoseconds) / 1e3) / 1e3;
}

/** Trace and span ids come as hex text in JSON and as bytes in protobuf. */
function setId(builder: BatchBuilder, name: string, id: unknown): void {
  const text = Array.isArray(id) ? id.map((byte: number) => byte.toString(16).padStart(2, '0')).join('') : id;
  if (typeof text === 'string' && text !== '') builder.attribute(name)?.setString(builder.row, text);
}

function setAttributes(builder: BatchBuilder, pairs: readonly KeyValue[], prefix: string): void {
  for (const { key = '', value } of pairs) {
    if (!value) continue;
    const name = prefix + key;
    if (value.kvlistValue) {
      setAttributes(builder, value.kvlistValue.values ?? [], `${name}.`);
      continue;
    }
    const simple = plain(value);
    if (name === 'host.name' && typeof simple === 'string') builder.emitter.setText(builder.row, simple);
    if (simple === undefined) continue;
    const attribute = builder.attribute(name);
    if (!attribute) builder.attributesLeftOut++;
    else if (typeof simple === 'number') attribute.setNumber(builder.row, simple);
    else if (typeof simple === 'boolean') attribute.setFlag(builder.row, simple);
    else attribute.setString(builder.row, typeof simple === 'string' ? simple : JSON.stringify(simple));
  }
}

type Plain = string | number | boolean | readonly unknown[] | Readonly<Record<string, unknown>>;

function plain(value: AnyValue): Plain | undefined {
  if (value.stringValue !== undefined) return value.stringValue;
  if (value.boolValue !== undefined) return value.boolValue;
  if (value.intValue !== undefined) return Number(value.intValue);
  if (value.doubleValue !== undefined) return Number(value.doubleValue);
  if (value.arrayValue) return (value.arrayValue.values ?? []).map(plain);
  if (value.kvlistValue) {
    return Object.fromEntries(
      (value.kvlistValue.values ?? []).map(({ key = '', value: item }) => [key, item ? plain(item) : null]),
    );
  }
  return value.bytesValue === undefined ? undefined : base64(value.bytesValue);
}

function base64(value: string | readonly number[]): string {
  return typeof value === 'string' ? value : btoa(value.map((byte) => String.fromCharCode(byte)).join(''));
}
