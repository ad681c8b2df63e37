import type { StoredEvent } from '../search/found-event.ts';

/** A form in which found events are written out. */
export interface ExportFormat {
  readonly name: string;
  readonly title: string;
  /** Its media type, and the ending of file names. */
  readonly type: string;
  readonly ending: string;
  /** What stands before the first event; `fields` are the names of all attributes that events may have. */
  readonly head: (fields: readonly string[]) => string;
  /** Some events, one after the other, as they follow what was written before. */
  readonly events: (events: readonly StoredEvent[], fields: readonly string[]) => string;
}
