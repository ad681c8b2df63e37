import type { EventRecord } from '../events/batch.ts';
import type { AttributeValue } from '../events/columns.ts';
import { severityWord } from '../events/severity.ts';

/** All fields of an event by name as tests and screens compare them: time as ISO 8601, severity as its word. */
export function fieldsOf(event: EventRecord): Readonly<Record<string, AttributeValue>> {
  return {
    time: new Date(event.time).toISOString(),
    severity: severityWord(event.severity),
    ...(event.emitter !== '' && { emitter: event.emitter }),
    body: event.body,
    ...event.attributes,
  };
}
