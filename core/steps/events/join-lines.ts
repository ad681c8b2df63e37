import { object, string } from 'yup';
import type { EventBatch } from '../../events/batch.ts';
import { gather } from '../../events/select.ts';
import { TextTableBuilder } from '../../events/text-table.ts';
import {
  type Continues,
  compileJoinRule,
  longestJoinPattern,
  maxJoinedBytes,
  maxJoinedLines,
  patternProblem,
} from '../../formats/join.ts';
import type { StepKind } from '../step.ts';

export interface JoinLinesOptions {
  /** A pattern that first lines match. */
  readonly starts?: string | undefined;
  /** Or a pattern that continuing lines match. */
  readonly continues?: string | undefined;
}

/** Joins lines that belong together into one event. */
export const joinLines: StepKind<JoinLinesOptions> = {
  kind: 'join-lines',
  title: 'Join lines',
  help: 'Joins lines of the same emitter that follow one another into one event, such as a stack trace: by a pattern that first lines match, or one that continuing lines match. The joined event has time, severity and fields of its first line. Only lines that arrive together can be joined; for followed files, set the rule on the source, where lines are joined before they are sent on.',
  schema: object({ starts: string().max(longestJoinPattern), continues: string().max(longestJoinPattern) }).noUnknown(),
  check: ({ starts, continues }) => {
    if (Boolean(starts) === Boolean(continues))
      return [{ path: 'starts', message: 'a rule has either starts or continues' }];
    const message = patternProblem(starts || continues || '');
    return message ? [{ path: starts ? 'starts' : 'continues', message }] : [];
  },
  describe: ({ starts, continues }) =>
    starts ? `join lines up to the next ${starts}` : `join lines that match ${continues} to the one before`,
  makes: () => [],
  reads: () => ['body'],
  example: {
    options: { continues: '^\\s' },
    input: 'Error: berth is taken\n  at assign (planner.js:14)',
    expect: { body: 'Error: berth is taken\n  at assign (planner.js:14)' },
  },
  dependsOnNeighbours: true,
  compile: (options) => {
    const continues = compileJoinRule(options);
    return (batch, rows) => joined(batch, rows, continues);
  },
};

function joined(
  batch: EventBatch,
  rows: Uint8Array,
  continues: Continues,
): ReturnType<ReturnType<typeof joinLines.compile>> {
  const { bytes, offsets } = batch.body;
  const heads: number[] = [];
  const members: number[][] = [];
  const open = new Map<number, { readonly head: number; bytes: number }>();
  for (let row = 0; row < batch.rows; row++) {
    const start = offsets[row] as number;
    const end = offsets[row + 1] as number;
    const emitter = batch.emitter.codes[row] as number;
    const record = rows[row] === 1 ? open.get(emitter) : undefined;
    const room =
      record &&
      (members[record.head] as number[]).length < maxJoinedLines &&
      record.bytes + end - start <= maxJoinedBytes;
    if (record && room && end > start && continues(bytes, start, end)) {
      (members[record.head] as number[]).push(row);
      record.bytes += end - start;
      continue;
    }
    members.push([row]);
    heads.push(row);
    if (rows[row] === 1) open.set(emitter, { head: heads.length - 1, bytes: end - start });
    else open.delete(emitter);
  }
  if (heads.length === batch.rows) return { batch };
  const origin = Int32Array.from(heads);
  const kept = gather(batch.source, [{ batch, rows: origin }]);
  const bodies = new TextTableBuilder();
  const size = kept.size.slice();
  const feed = Uint8Array.of(10);
  members.forEach((lines, index) => {
    const parts = lines.flatMap((row, i) => {
      const body = bytes.subarray(offsets[row] as number, offsets[row + 1] as number);
      return i === 0 ? [body] : [feed, body];
    });
    const whole = new Uint8Array(parts.reduce((sum, part) => sum + part.length, 0));
    let at = 0;
    for (const part of parts) {
      whole.set(part, at);
      at += part.length;
    }
    bodies.append(whole, 0, whole.length);
    size[index] = lines.reduce((sum, row) => sum + (batch.size[row] as number), 0);
  });
  return { batch: { ...kept, body: bodies.table(), size }, origin };
}
