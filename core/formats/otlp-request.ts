/** An attribute value of OTLP, in the form of its JSON mapping. */
export interface AnyValue {
  readonly stringValue?: string;
  readonly boolValue?: boolean;
  readonly intValue?: string | number;
  /** In JSON a text for what JSON has no number for: `NaN`, `Infinity`, `-Infinity`. */
  readonly doubleValue?: number | string;
  /** Base64 in JSON, bytes in protobuf. */
  readonly bytesValue?: string | readonly number[];
  readonly arrayValue?: { readonly values?: readonly AnyValue[] };
  readonly kvlistValue?: { readonly values?: readonly KeyValue[] };
}

/** A named value. */
export interface KeyValue {
  /** Absent for an empty one: protobuf leaves out what is empty. */
  readonly key?: string;
  readonly value?: AnyValue | null;
}

/** A log record, as far as it is read. */
export interface LogRecord {
  readonly timeUnixNano?: string | number;
  readonly observedTimeUnixNano?: string | number;
  readonly severityNumber?: number;
  readonly severityText?: string;
  readonly body?: AnyValue | null;
  readonly attributes?: readonly KeyValue[];
  readonly traceId?: string;
  readonly spanId?: string;
  readonly eventName?: string;
}

/** An `ExportLogsServiceRequest` in the form of its JSON mapping. */
export interface LogsRequest {
  readonly resourceLogs?: readonly {
    readonly resource?: { readonly attributes?: readonly KeyValue[] } | null;
    readonly scopeLogs?: readonly {
      readonly scope?: { readonly name?: string } | null;
      readonly logRecords?: readonly LogRecord[];
    }[];
  }[];
}
