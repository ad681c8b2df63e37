import type { Format } from './format.ts';
import { json } from './json.ts';
import { rfc3164, rfc5424 } from './syslog.ts';
import { text } from './text.ts';

/** The formats in the order in which a record is tried against them; the last one takes anything. */
export const formats: readonly Format[] = [json, rfc5424, rfc3164, text];

/** What a source may declare: one of the formats, or `auto` to look at each record. */
export type FormatChoice = 'auto' | 'json' | 'rfc5424' | 'rfc3164' | 'text';
