import { array, lazy, mixed, number, object, type Schema, string, ValidationError } from 'yup';
import type { LogsRequest } from './otlp-request.ts';

const keyValues = array(object({ key: string().defined(), value: mixed().nullable() }));
const list = array(mixed());
const requestShape = object({ resourceLogs: list });
const resourceShape = object({ resource: object({ attributes: keyValues }).nullable(), scopeLogs: list });
const scopeShape = object({ scope: object({ name: string() }).nullable(), logRecords: list });
const recordShape = object({
  timeUnixNano: lazy((value) => (typeof value === 'number' ? number() : string())),
  severityNumber: number(),
  attributes: keyValues,
});

/** Checks a parsed JSON body; throws Yup's `ValidationError` with the path of what is wrong. */
export function checkOtlp(value: unknown): LogsRequest {
  requestShape.validateSync(value, { strict: true });
  const request = value as LogsRequest;
  for (const [i, resource] of (request.resourceLogs ?? []).entries()) {
    const path = `resourceLogs[${i}]`;
    if (!isPlainResource(resource)) validate(resourceShape, resource, path);
    for (const [j, scope] of (resource.scopeLogs ?? []).entries()) checkScope(scope, `${path}.scopeLogs[${j}]`);
  }
  return request;
}

type Resource = NonNullable<LogsRequest['resourceLogs']>[number];
type Scope = NonNullable<Resource['scopeLogs']>[number];

function checkScope(scope: Scope, path: string): void {
  if (!isPlainScope(scope)) validate(scopeShape, scope, path);
  const records = scope.logRecords ?? [];
  for (let k = 0; k < records.length; k++) {
    if (!isPlainRecord(records[k])) validate(recordShape, records[k], `${path}.logRecords[${k}]`);
  }
}

/**
 * Has Yup look at what is out of the ordinary. It takes some twenty microseconds for a record, so what is plainly right is left to the
 * functions below: they know less, and never take for right what the shapes do not.
 */
function validate(shape: Schema, value: unknown, path: string): void {
  try {
    shape.validateSync(value, { strict: true });
  } catch (error) {
    if (!(error instanceof ValidationError)) throw error;
    const within = error.path ? `${path}.${error.path}` : path;
    const [said = ''] = error.errors;
    const rest = error.path && said.startsWith(error.path) ? said.slice(error.path.length) : said.replace(/^this/, '');
    throw new ValidationError(`${within}${rest}`, error.value, within);
  }
}

function isPlainResource(value: unknown): boolean {
  if (!isObject(value)) return false;
  const { resource, scopeLogs } = value;
  return (
    isAbsentOr(resource, (inner) => isObject(inner) && isAbsentOr(inner.attributes, areKeyValues)) &&
    isListOrAbsent(scopeLogs)
  );
}

function isPlainScope(value: unknown): boolean {
  if (!isObject(value)) return false;
  const { scope, logRecords } = value;
  return isAbsentOr(scope, (inner) => isObject(inner) && isAbsentOr(inner.name, isText)) && isListOrAbsent(logRecords);
}

function isPlainRecord(value: unknown): boolean {
  if (!isObject(value)) return false;
  const { timeUnixNano, severityNumber, attributes } = value;
  return (
    isAbsentOr(timeUnixNano, (time) => isText(time) || typeof time === 'number') &&
    isAbsentOr(severityNumber, (severity) => typeof severity === 'number') &&
    isAbsentOr(attributes, areKeyValues)
  );
}

function areKeyValues(value: unknown): boolean {
  return Array.isArray(value) && value.every((pair) => isObject(pair) && isText(pair.key));
}

function isListOrAbsent(value: unknown): boolean {
  return isAbsentOr(value, Array.isArray);
}

function isAbsentOr(value: unknown, isRight: (value: unknown) => boolean): boolean {
  return value === undefined || isRight(value);
}

function isText(value: unknown): boolean {
  return typeof value === 'string';
}

function isObject(value: unknown): value is Readonly<Record<string, unknown>> {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}
