import { object, string } from 'yup';
import { PatternFault } from '../patterns/parse.ts';
import { compilePattern, type Pattern } from '../patterns/pattern.ts';
import type { Records } from './records.ts';

/** How several lines become one record: by what a first line looks like, or by what a continuing line looks like. */
export interface JoinRule {
  readonly starts?: string | undefined;
  readonly continues?: string | undefined;
}

/** Longest pattern of a rule, in characters. */
export const longestJoinPattern = 2_000;

/** Most bytes and lines of one joined record; what comes then begins a new one. */
export const maxJoinedBytes = 128 * 1024;
export const maxJoinedLines = 1_000;

/** Forms of lines that go on with a stack trace, each of the languages that write them. */
const traceLines = [
  // Frames and causes of most languages are indented; what only closes a bracket ends an object that Node.js printed.
  '\\s+\\S',
  '[\\]})]+,?$',
  // Java, Kotlin, .NET: the exception by its full name, its causes, and how many frames are left out.
  '([A-Za-z_$][\\w$]*\\.)+[A-Z][\\w$]*(Exception|Error|Throwable|Failure|Fault)(:.*)?$',
  'Caused by:',
  'Suppressed:',
  '\\.\\.\\. \\d+ (more|common frames omitted)',
  // Python: the traceback, the exceptions that led to another, and the exception itself at its end.
  'Traceback \\(most recent call last\\):',
  'During handling of the above exception',
  'The above exception was the direct cause',
  '([A-Za-z_]\\w*\\.)*[A-Z]\\w*(Error|Exception|Warning|Interrupt|Exit)(:.*)?$',
  // Go: goroutines, their functions, and how the program ended.
  'goroutine \\d+ \\[',
  'created by \\S+',
  '[\\w./*()-]+\\.[\\w.()*]+\\(.*\\)$',
  '\\[signal ',
  'exit status \\d+$',
  // Ruby: the exception with its class, frames without an indentation, and where it came from.
  '[A-Z]\\w*(::\\w+)* \\(.*\\):?$',
  "\\S+\\.rb:\\d+:in [`'][^`']*'$",
  // Node.js: the version after an exception that nobody caught.
  'Node\\.js v\\d',
];

/** The rule for stack traces: what is indented, or has the form of one of their lines, belongs to the line before. */
export const stackTraceRule: JoinRule = { continues: `^(${traceLines.join('|')})` };

/** The shape of a rule at the edges. */
export const joinRule = object({
  starts: string().max(longestJoinPattern).test('pattern', 'this is not a pattern', isPattern),
  continues: string().max(longestJoinPattern).test('pattern', 'this is not a pattern', isPattern),
})
  .noUnknown()
  .test(
    'one of two',
    'a rule has either starts or continues',
    (rule) => !rule || Boolean(rule.starts) !== Boolean(rule.continues),
  );

/** Why a text is no pattern; undefined when it is one. */
export function patternProblem(text: string): string | undefined {
  try {
    compilePattern(text);
    return undefined;
  } catch (fault) {
    if (fault instanceof PatternFault) return fault.message;
    throw fault;
  }
}

function isPattern(text: string | undefined): boolean {
  return text === undefined || patternProblem(text) === undefined;
}

/** Whether a line goes on with the record before it. */
export type Continues = (bytes: Uint8Array, start: number, end: number) => boolean;

/** Compiled patterns of rules: each piece of a followed file asks for its own anew. */
const compiled = new Map<string, Pattern>();
/** Most of them that are remembered. */
const mostCompiled = 200;

function patternOf(text: string): Pattern {
  let pattern = compiled.get(text);
  if (!pattern) {
    if (compiled.size >= mostCompiled) compiled.clear();
    compiled.set(text, (pattern = compilePattern(text)));
  }
  return pattern;
}

/** Compiles a rule. Linear in the length of the lines, whatever the pattern. */
export function compileJoinRule(rule: JoinRule): Continues {
  const pattern = patternOf(rule.continues ?? rule.starts ?? '^');
  return rule.continues
    ? (bytes, start, end) => pattern.test(bytes, start, end)
    : (bytes, start, end) => !pattern.test(bytes, start, end);
}

/** Joins lines that follow one another in the same bytes; line breaks between them stay inside the records. */
export function joinRecords(records: Records, continues: Continues): Records {
  const starts: number[] = [];
  const ends: number[] = [];
  const lines: number[] = [];
  let joined = 0;
  for (let i = 0; i < records.count; i++) {
    const start = records.starts[i] as number;
    const end = records.ends[i] as number;
    const last = starts.length - 1;
    const room = last >= 0 && joined < maxJoinedLines && end - (starts[last] as number) <= maxJoinedBytes;
    if (room && continues(records.bytes, start, end)) {
      ends[last] = end;
      joined++;
      continue;
    }
    starts.push(start);
    ends.push(end);
    lines.push(records.lines?.[i] ?? i + 1);
    joined = 1;
  }
  return {
    bytes: records.bytes,
    starts: Uint32Array.from(starts),
    ends: Uint32Array.from(ends),
    count: starts.length,
    lines: Uint32Array.from(lines),
  };
}
