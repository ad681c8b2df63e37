import type { ConditionProblem } from '../conditions/ast.ts';
import type { EventBatch } from '../events/batch.ts';
import { extract } from '../steps/parse/extract.ts';
import { noResources } from '../steps/step.ts';
import { compileTemplate } from '../templates/template.ts';

/** A line template whose fields events have for one search. */
export interface ExtractionText {
  readonly template: string;
  /** The text that it cuts: `body`, or an attribute. */
  readonly from: string;
}

/** An extraction ready to run. */
export interface Extraction extends ExtractionText {
  /** The fields that it makes, and those of them whose values are numbers. */
  readonly fields: readonly string[];
  readonly numbers: ReadonlySet<string>;
  /** The batch with the fields of the lines that fit; the others stay as they are. */
  readonly run: (batch: EventBatch) => EventBatch;
}

export type CompiledExtraction =
  | { readonly ok: true; readonly extraction: Extraction }
  | { readonly ok: false; readonly problem: ConditionProblem };

/** Compiles an extraction; a template that is wrong, or one that makes what is built in, is reported with its place. */
export function compileExtraction({ template, from }: ExtractionText): CompiledExtraction {
  const compiled = compileTemplate(template);
  if (!compiled.ok) return { ok: false, problem: compiled.problem };
  const options = { from, template };
  const [problem] = extract.check?.(options) ?? [];
  if (problem) return { ok: false, problem: { message: problem.message, start: 0, end: template.length } };
  const step = extract.compile(options, noResources);
  return {
    ok: true,
    extraction: {
      ...options,
      fields: extract.makes(options),
      numbers: new Set(compiled.template.holes.filter(({ type }) => type.read).map(({ name }) => name)),
      run: (batch) => step(batch, new Uint8Array(batch.rows).fill(1)).batch,
    },
  };
}

/** Whether any of some fields is one that an extraction makes; names compare in any case. */
export function makesOneOf({ fields }: Extraction, names: readonly string[]): boolean {
  const made = new Set(fields.map((field) => field.toLowerCase()));
  return names.some((name) => made.has(name.toLowerCase()));
}
