import { decode } from './text-table.ts';

/**
 * Severity as one number: 0 is unknown, 1–24 are the OpenTelemetry severity numbers, in ranges of four
 * (OpenTelemetry log data model, "Field: SeverityNumber").
 */
export type Severity = number;

/** The six severity words, lowest first; each covers four numbers. */
export const severityWords = ['trace', 'debug', 'info', 'warn', 'error', 'fatal'] as const;

export type SeverityWord = (typeof severityWords)[number];

/** The word for events whose severity is not known. */
export const unknownSeverity = 'unset';

const names = new Map<string, Severity>([
  ['trace', 1],
  ['finest', 1],
  ['verbose', 1],
  ['t', 1],
  ['debug', 5],
  ['fine', 5],
  ['d', 5],
  ['info', 9],
  ['information', 9],
  ['informational', 9],
  ['i', 9],
  ['notice', 10],
  ['n', 10],
  ['warn', 13],
  ['warning', 13],
  ['w', 13],
  ['error', 17],
  ['err', 17],
  ['e', 17],
  ['severe', 17],
  ['critical', 18],
  ['crit', 18],
  ['alert', 19],
  ['fatal', 21],
  ['emergency', 21],
  ['emerg', 21],
  ['panic', 21],
  ['f', 21],
]);

/** Longest text that may name a severity, blanks around it included. */
const longestName = 13;

/** The texts looked up last, each at the place that its ends and its length give it. */
const rememberedCount = 64;
const remembered: ({ readonly text: Uint8Array; readonly severity: Severity } | undefined)[] = new Array(
  rememberedCount,
);

function sameBytes(text: Uint8Array, bytes: Uint8Array, start: number): boolean {
  for (let i = 0; i < text.length; i++) if (text[i] !== bytes[start + i]) return false;
  return true;
}

/** Syslog severities 0–7 as severity numbers (mapping of the OpenTelemetry log data model, appendix B). */
const syslogSeverities: readonly Severity[] = [21, 19, 18, 17, 13, 10, 9, 5];

/** The severity number a word such as `WARN`, `err` or `I` means, or 0 when it means none. */
export function severityFromText(text: string): Severity {
  return names.get(text.trim().toLowerCase()) ?? 0;
}

/** As {@link severityFromText}, for UTF-8 bytes; lines name few severities, so what they wrote is remembered. */
export function severityFromBytes(bytes: Uint8Array, start: number, end: number): Severity {
  if (end - start > longestName) return 0;
  const place = (((bytes[start] as number) * 31 + (bytes[end - 1] as number)) * 31 + end - start) % rememberedCount;
  const last = remembered[place];
  if (last && last.text.length === end - start && sameBytes(last.text, bytes, start)) return last.severity;
  const severity = severityFromText(decode(bytes, start, end));
  remembered[place] = { text: bytes.slice(start, end), severity };
  return severity;
}

/**
 * The severity a number in a structured line means: 10, 20 … 60 follow the scale of tens that many loggers write
 * (10 trace … 60 fatal); other numbers from 1 to 24 are severity numbers. Anything else is 0.
 */
export function severityFromNumber(value: number): Severity {
  if (!Number.isInteger(value) || value < 1) return 0;
  if (value % 10 === 0 && value <= 60) return (value / 10 - 1) * 4 + 1;
  return value <= 24 ? value : 0;
}

/** The severity number for a syslog severity (0 emergency … 7 debug); 0 outside that range. */
export function severityFromSyslog(level: number): Severity {
  return syslogSeverities[level] ?? 0;
}

/** The word for a severity number: `trace` … `fatal`, or `unset` for 0. */
export function severityWord(severity: Severity): SeverityWord | typeof unknownSeverity {
  return severity < 1 ? unknownSeverity : (severityWords[(Math.min(severity, 24) - 1) >> 2] ?? unknownSeverity);
}

/** Classes of severity: unset, and one for each word. */
export const severityClasses = severityWords.length + 1;

/** The class of a severity: 0 unset, 1 trace … 6 fatal. */
export function severityClass(severity: Severity): number {
  return (severity + 3) >> 2;
}

/** The highest severity of a class; 0 for unset. */
export function severityOfClass(place: number): Severity {
  return place * 4;
}

/** First and last severity number of a word; undefined when the word names no severity. */
export function severityRange(word: string): readonly [Severity, Severity] | undefined {
  const number = severityFromText(word);
  if (number === 0) return word.toLowerCase() === unknownSeverity ? [0, 0] : undefined;
  const first = ((number - 1) & ~3) + 1;
  return [first, first + 3];
}
