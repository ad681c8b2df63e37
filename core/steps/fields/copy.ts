import { object, string } from 'yup';
import { textColumn } from '../../events/columns.ts';
import { textAt } from '../../events/text-table.ts';
import { checkMade } from '../names.ts';
import type { StepKind } from '../step.ts';
import { withMade } from '../texts.ts';

export interface CopyOptions {
  readonly from: string;
  readonly to: string;
}

/** Gives events a second field with the value of another one; the columns are shared, nothing is copied in memory. */
export const copy: StepKind<CopyOptions> = {
  kind: 'copy',
  title: 'Copy',
  help: 'Gives the value of a field, or the body, a second name. An event that lacks the field is left alone. Both are stored, so prefer renaming where the first one is not needed.',
  schema: object({ from: string().required(), to: string().required() }).noUnknown(),
  check: ({ to }) => checkMade(to, 'to'),
  describe: ({ from, to }) => `copy ${from} to ${to}`,
  makes: ({ to }) => [to],
  reads: ({ from }) => [from],
  example: {
    options: { from: 'user', to: 'actor' },
    input: '{"user":"mara"}',
    expect: { user: 'mara', actor: 'mara' },
  },
  compile: (options) => (batch, rows) => {
    if (options.from === 'body') {
      const bodies = textColumn(
        Array.from(rows, (chosen, row) =>
          chosen === 1 && batch.body.count > row ? textAt(batch.body, row) : undefined,
        ),
      );
      return { batch: withMade(batch, new Map([[options.to, { text: bodies }]]), rows) };
    }
    const columns = options.from === 'emitter' ? { text: batch.emitter } : batch.attributes.get(options.from);
    if (!columns) return { batch };
    return { batch: withMade(batch, new Map([[options.to, columns]]), rows) };
  },
};
