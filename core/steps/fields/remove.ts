import { array, object, string } from 'yup';
import type { StepKind } from '../step.ts';
import { without } from '../texts.ts';

export interface RemoveOptions {
  readonly fields: string[];
}

/** Takes fields out of events. */
export const remove: StepKind<RemoveOptions> = {
  kind: 'remove',
  title: 'Remove',
  help: 'Takes fields out of the event, so that they are neither stored nor paid for.',
  schema: object({ fields: array(string().required()).min(1).required() }).noUnknown(),
  describe: (options) => `remove ${options.fields.join(', ')}`,
  makes: () => [],
  reads: () => [],
  takesOut: ({ fields }) => fields,
  example: { options: { fields: ['debug'] }, input: '{"debug":"x","pier":4}', expect: { debug: null, pier: 4 } },
  compile: (options) => (batch, rows) => {
    const attributes = new Map(batch.attributes);
    for (const name of options.fields) {
      const columns = attributes.get(name);
      const left = columns && without(columns, rows);
      if (left) attributes.set(name, left);
      else attributes.delete(name);
    }
    return { batch: { ...batch, attributes } };
  },
};
