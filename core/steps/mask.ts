import { array, object, string } from 'yup';
import type { EventBatch } from '../events/batch.ts';
import { encode, TextTableBuilder } from '../events/text-table.ts';
import { detectors } from '../masks/index.ts';
import { trialHash } from '../masks/keyed-hash.ts';
import {
  compileMasks,
  describeMask,
  type MaskRule,
  type MaskText,
  type Replacement,
  replacementOf,
  replacements,
} from '../masks/mask.ts';
import type { StepKind } from './step.ts';
import { eachText, MadeAttributes } from './texts.ts';

export interface MaskOptions {
  /** The fields to look in; `body` is one, `*` stands for the body and all fields. */
  readonly fields: string[];
  /** A detector; without it and without `after` the whole value is masked. */
  readonly find?: string | undefined;
  /** Or: what follows this text. */
  readonly after?: string | undefined;
  readonly with: Replacement;
}

function ruleOf(options: MaskOptions): MaskRule | undefined {
  if (options.find === undefined && options.after === undefined) return undefined;
  return { find: options.find, after: options.after, with: options.with };
}

/** Masks values in fields. */
export const mask: StepKind<MaskOptions> = {
  kind: 'mask',
  title: 'Mask',
  help: 'Replaces what must not be kept: the whole value of a field, or card numbers (their check digit is tested), mail addresses, tokens and passwords, or IPv4 addresses within it. The same value always gets the same hash, so that it can still be counted. This step covers what follows it; the tape and the rejects hold lines as they arrived. To keep a value out of those too, let the source mask it.',
  schema: object({
    fields: array(string().required()).min(1).required(),
    find: string().oneOf([...detectors.keys()]),
    after: string().min(2).max(100),
    with: string().oneOf(replacements).required().default('hash'),
  }).noUnknown(),
  check: ({ find, after }) =>
    find !== undefined && after !== undefined ? [{ path: 'after', message: 'a mask has either find or after' }] : [],
  describe: (options) => {
    const rule = ruleOf(options);
    return rule ? `${describeMask(rule)} in ${options.fields.join(', ')}` : `mask ${options.fields.join(', ')}`;
  },
  makes: () => [],
  reads: ({ fields }) => fields.filter((name) => name !== '*'),
  example: {
    options: { fields: ['body'], find: 'card', with: 'last-four' },
    input: 'paid with 4000 0012 3456 7899 at the kiosk',
    expect: { body: 'paid with •••7899 at the kiosk' },
  },
  compile: (options, { hash = trialHash }) => {
    const rule = ruleOf(options);
    const within = rule && compileMasks([rule], hash);
    const whole: MaskText = (bytes, start, end) => encode(replacementOf(options.with, bytes, start, end, hash));
    return (batch, rows) => {
      let current = batch;
      const all = options.fields.includes('*');
      if (all || options.fields.includes('body')) current = maskBody(current, rows, within?.text ?? whole);
      const names = all ? [...batch.attributes.keys()] : options.fields.filter((name) => name !== 'body');
      for (const name of names) current = maskField(current, name, rows, within?.ofField(name) ?? whole);
      return { batch: current };
    };
  },
};

/** The bodies of the chosen rows, masked. */
export function maskBody(batch: EventBatch, rows: Uint8Array, text: MaskText): EventBatch {
  const { bytes, offsets } = batch.body;
  const bodies = new TextTableBuilder();
  let changed = false;
  for (let row = 0; row < batch.rows; row++) {
    const start = offsets[row] as number;
    const end = offsets[row + 1] as number;
    const masked = rows[row] === 1 && end > start ? text(bytes, start, end) : undefined;
    if (masked) {
      changed = true;
      bodies.append(masked, 0, masked.length);
    } else bodies.append(bytes, start, end);
  }
  return changed ? { ...batch, body: bodies.table() } : batch;
}

/** The values of an attribute in the chosen rows, masked. */
export function maskField(batch: EventBatch, name: string, rows: Uint8Array, text: MaskText): EventBatch {
  if (!batch.attributes.has(name)) return batch;
  const made = new MadeAttributes(batch.rows);
  const masked = new Uint8Array(batch.rows);
  eachText(
    batch,
    name,
    rows,
    (row, bytes, start, end) => {
      const value = text(bytes, start, end);
      if (!value) return;
      masked[row] = 1;
      made.get(name).setText(row, value, 0, value.length);
    },
    () => {},
  );
  return masked.includes(1) ? made.into(batch, masked) : batch;
}
