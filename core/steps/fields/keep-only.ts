import { array, object, string } from 'yup';
import { failureAttribute } from '../../events/batch.ts';
import { encode } from '../../events/text-table.ts';
import { compileGlob } from '../../patterns/glob.ts';
import type { StepKind } from '../step.ts';
import { without } from '../texts.ts';

export interface KeepOnlyOptions {
  readonly fields: string[];
}

/** Takes all fields out of events but some. */
export const keepOnly: StepKind<KeepOnlyOptions> = {
  kind: 'keep-only',
  title: 'Keep only',
  help: 'Takes out every field that is not in the list; * stands for any characters, such as client.*. Time, severity, body and emitter always stay, and so does the mark of an earlier step that failed.',
  schema: object({ fields: array(string().required()).min(1).required() }).noUnknown(),
  describe: ({ fields }) => `keep only ${fields.join(', ')}`,
  makes: () => [],
  reads: ({ fields }) => fields.filter((name) => !name.includes('*')),
  takesOut: () => 'others',
  example: {
    options: { fields: ['pier', 'gate.*'] },
    input: '{"pier":4,"gate.lane":2,"noise":"x"}',
    expect: { pier: 4, 'gate.lane': 2, noise: null },
  },
  compile: (options) => {
    const globs = options.fields.map((name) => compileGlob(name));
    const kept = (name: string): boolean => {
      const bytes = encode(name);
      return name === failureAttribute || globs.some((glob) => glob.test(bytes, 0, bytes.length));
    };
    return (batch, rows) => {
      const attributes = new Map(batch.attributes);
      for (const [name, columns] of batch.attributes) {
        if (kept(name)) continue;
        const left = without(columns, rows);
        if (left) attributes.set(name, left);
        else attributes.delete(name);
      }
      return { batch: { ...batch, attributes } };
    };
  },
};
