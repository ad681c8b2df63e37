import { encode } from '../events/text-table.ts';
import { compilePattern } from '../patterns/pattern.ts';
import { compileJoinRule, type JoinRule, joinRecords, stackTraceRule } from './join.ts';
import { splitLines } from './records.ts';

/** How lines become records of several lines, as they were found to. */
export interface NoticedJoin {
  readonly rule: JoinRule;
  /** What first lines begin with, in words, or `stack traces`. */
  readonly title: string;
  /** How many lines were looked at, and how many records they make. */
  readonly lines: number;
  readonly records: number;
  /** The first record of more than one line. */
  readonly example: string;
}

/** What first lines of records begin with. */
const heads: readonly (readonly [title: string, pattern: string])[] = [
  ['a date and time', '^\\[?\\d{4}-\\d\\d-\\d\\d[T ]\\d\\d:\\d\\d'],
  ['a date and time', '^\\[?\\d{4}/\\d\\d/\\d\\d[T ]\\d\\d:\\d\\d'],
  ['a date and time', '^\\[?\\d\\d[./]\\d\\d[./]\\d{4}[T ]\\d\\d:\\d\\d'],
  ['a date and time', '^\\[?[A-Z][a-z][a-z] [ \\d]\\d \\d\\d:\\d\\d:\\d\\d'],
  ['a severity, a date and a time', '^[A-Z], \\[\\d{4}-\\d\\d-\\d\\dT'],
  ['a severity, a date and a time', '^[A-Z]\\d{4} \\d\\d:\\d\\d:\\d\\d'],
  ['a severity', '^\\[?(TRACE|DEBUG|INFO|NOTICE|WARN|WARNING|ERROR|FATAL|CRITICAL)[] :|]'],
  ['a time of day', '^\\[?\\d\\d:\\d\\d:\\d\\d'],
];

/** Share of the lines that are no first ones that must look like the rest of a record, such as those of a stack trace. */
const leastAlike = 0.5;
/** Fewest first lines, and fewest lines of stack traces, that say something. */
const fewest = 2;

/**
 * Finds out whether lines, as they follow one another, are records of several lines: what their first lines begin with where
 * others lie between that look like the rest of a record, else stack traces. Undefined where each line stands for itself.
 */
export function noticeJoin(lines: readonly string[]): NoticedJoin | undefined {
  const written = lines.map((line) => line.trimEnd()).filter((line) => line !== '');
  const isTrace = lines.length > 0 ? matcher(stackTraceRule.continues ?? '') : () => false;
  const found = heads
    .map(([title, pattern]) => ({ title, pattern, first: written.filter(matcher(pattern)).length }))
    .sort((a, b) => b.first - a.first)[0];
  if (found && found.first >= fewest) {
    const isFirst = matcher(found.pattern);
    const others = written.filter((line) => !isFirst(line));
    const alike = others.filter((line) => isTrace(line)).length;
    if (others.length > 0 && alike >= leastAlike * others.length)
      return noticed(written, { starts: found.pattern }, found.title);
    // Lines that are neither: records of some other form, of which nothing is known.
    if (others.length > 0 && alike === 0) return undefined;
  }
  const ofTraces = written.filter((line) => isTrace(line)).length;
  return ofTraces >= fewest && ofTraces < written.length ? noticed(written, stackTraceRule, 'stack traces') : undefined;
}

function noticed(lines: readonly string[], rule: JoinRule, title: string): NoticedJoin | undefined {
  const bytes = encode(lines.join('\n'));
  const records = joinRecords(splitLines(bytes), compileJoinRule(rule));
  const decoder = new TextDecoder();
  for (let i = 0; i < records.count; i++) {
    const example = decoder.decode(bytes.subarray(records.starts[i], records.ends[i]));
    if (example.includes('\n')) return { rule, title, lines: lines.length, records: records.count, example };
  }
  return undefined;
}

function matcher(pattern: string): (line: string) => boolean {
  const compiled = compilePattern(pattern);
  return (line) => {
    const bytes = encode(line);
    return compiled.test(bytes, 0, bytes.length);
  };
}
