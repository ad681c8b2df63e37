import { object, string } from 'yup';
import type { StepKind } from '../step.ts';
import { withMade, without } from '../texts.ts';

export interface RenameOptions {
  readonly from: string;
  readonly to: string;
}

/** Gives a field another name; where all rows take part, nothing is copied. */
export const rename: StepKind<RenameOptions> = {
  kind: 'rename',
  title: 'Rename',
  help: 'Gives a field another name. An event that lacks the field is left alone; a field that had the new name is replaced.',
  schema: object({ from: string().required(), to: string().required() }).noUnknown(),
  describe: (options) => `rename ${options.from} to ${options.to}`,
  makes: (options) => [options.to],
  reads: (options) => [options.from],
  example: { options: { from: 'usr', to: 'user' }, input: '{"usr":"mara"}', expect: { user: 'mara', usr: null } },
  compile: (options) => (batch, rows) => {
    const columns = batch.attributes.get(options.from);
    if (!columns) return { batch };
    const attributes = new Map(batch.attributes);
    const left = without(columns, rows);
    if (left) attributes.set(options.from, left);
    else attributes.delete(options.from);
    return { batch: withMade({ ...batch, attributes }, new Map([[options.to, columns]]), rows) };
  },
};
