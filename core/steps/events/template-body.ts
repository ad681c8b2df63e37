import { object, string } from 'yup';
import { encode, TextTableBuilder } from '../../events/text-table.ts';
import { bindExpression } from '../../expressions/evaluate.ts';
import { FailureCollector, type StepKind, stepResult } from '../step.ts';

export interface TemplateBodyOptions {
  /** Text with `{field}` holes; `{{` and `}}` stand for braces. */
  readonly template: string;
}

type Piece = { readonly text: string } | { readonly field: string };

const shape = /\{\{|\}\}|\{([^{}]+)\}|[^{}]+|[{}]/g;

function piecesOf(template: string): readonly Piece[] {
  return [...template.matchAll(shape)].map((found): Piece => {
    if (found[1] !== undefined) return { field: found[1].trim() };
    return { text: found[0] === '{{' ? '{' : found[0] === '}}' ? '}' : found[0] };
  });
}

/** Builds a new body from fields. */
export const templateBody: StepKind<TemplateBodyOptions> = {
  kind: 'template-body',
  title: 'Template body',
  help: 'Builds a short body from fields, such as {method} {path} → {status}, so that events stay readable after the original line was dropped. A field that the event lacks is written as –. An event that has none of the fields keeps its body, and the step fails for it.',
  schema: object({ template: string().required().max(2_000) }).noUnknown(),
  check: ({ template }) =>
    piecesOf(template).some((piece) => 'field' in piece)
      ? []
      : [{ path: 'template', message: 'the body needs at least one {field}' }],
  describe: ({ template }) => `body: ${template}`,
  makes: () => [],
  reads: ({ template }) => piecesOf(template).flatMap((piece) => ('field' in piece ? [piece.field] : [])),
  example: {
    options: { template: '{method} {path} → {status}' },
    input: '{"method":"GET","path":"/book","status":200}',
    expect: { body: 'GET /book → 200' },
  },
  compile: (options) => {
    const pieces = piecesOf(options.template);
    return (batch, rows) => {
      const values = pieces.map((piece) =>
        'field' in piece ? bindExpression({ kind: 'field', name: piece.field }, batch) : undefined,
      );
      const failures = new FailureCollector(batch.rows);
      const bodies = new TextTableBuilder();
      const { bytes, offsets } = batch.body;
      for (let row = 0; row < batch.rows; row++) {
        const texts = rows[row] === 1 ? values.map((value) => value?.(row)) : [];
        if (rows[row] === 1 && texts.every((text) => text === undefined))
          failures.add(row, 'none of the fields is there');
        if (texts.every((text) => text === undefined)) {
          bodies.append(bytes, offsets[row] as number, offsets[row + 1] as number);
          continue;
        }
        const text = pieces.map((piece, i) => ('text' in piece ? piece.text : (texts[i] ?? '–'))).join('');
        const body = encode(text);
        bodies.append(body, 0, body.length);
      }
      return stepResult({ ...batch, body: bodies.table() }, failures);
    };
  },
};
