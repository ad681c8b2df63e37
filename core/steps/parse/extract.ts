import { array, object, string } from 'yup';
import type { Mask } from '../../conditions/mask.ts';
import type { EventBatch } from '../../events/batch.ts';
import { AttributeBuilder } from '../../events/batch-builder.ts';
import type { AttributeColumns } from '../../events/columns.ts';
import { decode } from '../../events/text-table.ts';
import { readPairs } from '../../templates/pairs.ts';
import { compileTemplate, type Template, templateOf } from '../../templates/template.ts';
import { isReserved } from '../names.ts';
import { FailureCollector, type StepKind, type StepResult } from '../step.ts';
import { eachText, withMade } from '../texts.ts';

export interface ExtractOptions {
  readonly from: string;
  /** One template, or several that are tried in order. */
  readonly template?: string | undefined;
  readonly templates?: string[] | undefined;
}

/** Most attributes that one `pairs` hole may add to a batch. */
const maxPairNames = 200;

/** The attributes being filled by one run of the step. */
class Extraction {
  readonly made = new Map<string, AttributeBuilder>();
  private readonly slots: (AttributeBuilder | undefined)[][];

  constructor(
    private readonly batch: EventBatch,
    private readonly templates: readonly Template[],
  ) {
    this.slots = templates.map((template) =>
      template.holes.map((hole) =>
        hole.name === '' || hole.type.gives === 'pairs' ? undefined : this.attribute(hole.name, hole.type.unit),
      ),
    );
  }

  attribute(name: string, unit: 'none' | 'duration' | 'size'): AttributeBuilder {
    let builder = this.made.get(name);
    if (!builder) this.made.set(name, (builder = new AttributeBuilder(this.batch.rows, unit)));
    return builder;
  }

  /** Stores the values of a match; returns the reason when one does not read as its type. */
  store(row: number, index: number, bytes: Uint8Array, spans: Int32Array): string | undefined {
    const { holes } = this.templates[index] as Template;
    const slots = this.slots[index] as (AttributeBuilder | undefined)[];
    for (let i = 0; i < holes.length; i++) {
      const start = spans[i * 2] as number;
      if (start < 0) continue;
      const end = spans[i * 2 + 1] as number;
      const hole = holes[i] as Template['holes'][number];
      const slot = slots[i];
      if (!slot) {
        if (hole.type.gives === 'pairs') this.storePairs(row, bytes, start, end);
        continue;
      }
      const { read } = hole.type;
      if (!read) {
        slot.setText(row, bytes, start, end);
        continue;
      }
      const value = read(bytes, start, end, this.batch.received[row] as number);
      if (value !== value) return `${hole.name} is no ${hole.type.name}`;
      slot.setNumber(row, value);
    }
    return undefined;
  }

  private storePairs(row: number, bytes: Uint8Array, start: number, end: number): void {
    readPairs(bytes, start, end, (nameStart, nameEnd, valueStart, valueEnd) => {
      const name = decode(bytes, nameStart, nameEnd);
      if (this.made.has(name) || this.made.size < maxPairNames) {
        this.attribute(name, 'none').setText(row, bytes, valueStart, valueEnd);
      }
    });
  }

  columns(): ReadonlyMap<string, AttributeColumns> {
    return new Map([...this.made].map(([name, builder]) => [name, builder.columns(this.batch.rows)]));
  }
}

/** The reason for a line that fits none of the templates: where the one that came furthest stopped. */
function misfit(template: Template, piece: number): string {
  const expected = template.pieces[piece];
  if (!expected) return 'text goes on after the end of the template';
  if (expected.kind === 'literal') return `expected “${expected.text}”`;
  return `expected ${expected.name === '' ? 'text to skip' : expected.name} (${expected.type.name})`;
}

function extractRows(batch: EventBatch, rows: Mask, from: string, templates: readonly Template[]): StepResult {
  const extraction = new Extraction(batch, templates);
  const failures = new FailureCollector(batch.rows);
  const spans = new Int32Array(2 * Math.max(1, ...templates.map((template) => template.holes.length)));
  const fitted = new Uint8Array(batch.rows);
  const tryAll = (row: number, bytes: Uint8Array, start: number, end: number): void => {
    let furthest = -1;
    let reason = '';
    for (let index = 0; index < templates.length; index++) {
      const template = templates[index] as Template;
      const piece = template.match(bytes, start, end, spans);
      if (piece < 0) {
        const wrong = extraction.store(row, index, bytes, spans);
        if (wrong === undefined) {
          fitted[row] = 1;
          return;
        }
        reason = wrong;
        furthest = end;
      } else if (template.failedAt() > furthest) {
        furthest = template.failedAt();
        reason = misfit(template, piece);
      }
    }
    failures.add(row, reason);
  };
  eachText(batch, from, rows, tryAll, (row) => failures.add(row, `there is no ${from}`));
  const parsed = batch.parsed.map((before, row) => (rows[row] === 1 ? (fitted[row] as number) : before));
  return withFailures({ ...withMade(batch, extraction.columns(), fitted), parsed }, failures);
}

function withFailures(batch: EventBatch, collector: FailureCollector): StepResult {
  const { failures } = collector;
  return failures ? { batch, failures } : { batch };
}

function templatesOf(options: ExtractOptions): readonly string[] {
  return options.templates ?? (options.template === undefined ? [] : [options.template]);
}

/** Cuts a line into fields with line templates. */
export const extract: StepKind<ExtractOptions> = {
  kind: 'extract',
  title: 'Cut into fields',
  help: 'Cuts a text into fields with one or more line templates, tried in order. A line that fits none is kept and marked, unless told otherwise.',
  schema: object({
    from: string().required().default('body'),
    template: string(),
    templates: array(string().required()),
  }).noUnknown(),
  check: (options) => {
    const templates = templatesOf(options);
    if (templates.length === 0) return [{ path: 'template', message: 'a template is missing' }];
    return templates.flatMap((text, index) => {
      const compiled = compileTemplate(text);
      if (compiled.ok) return reservedNames(compiled.template, options.templates ? `templates[${index}]` : 'template');
      const { message, start, suggestion } = compiled.problem;
      const hint = suggestion ? `; did you mean ${suggestion}?` : '';
      return [
        {
          path: options.templates ? `templates[${index}]` : 'template',
          message: `${message} (character ${start + 1})${hint}`,
        },
      ];
    });
  },
  describe: (options) => {
    const count = templatesOf(options).length;
    return `cut ${options.from} into fields with ${count === 1 ? 'a template' : `${count} templates`}`;
  },
  makes: (options) =>
    templatesOf(options).flatMap((text) => {
      const compiled = compileTemplate(text);
      return compiled.ok ? compiled.template.holes.map((hole) => hole.name).filter((name) => name !== '') : [];
    }),
  reads: (options) => [options.from],
  example: {
    options: { from: 'body', template: 'ticket {ref} {result} in {took:duration}' },
    input: 'ticket SKL-24555 open in 235ms',
    expect: { ref: 'SKL-24555', result: 'open', took: 0.235 },
  },
  compile: (options) => {
    const templates = templatesOf(options).map(templateOf);
    return (batch, rows) => extractRows(batch, rows, options.from, templates);
  },
};

function reservedNames(template: Template, path: string): { path: string; message: string }[] {
  return template.holes
    .filter((hole) => isReserved(hole.name))
    .map((hole) => ({
      path,
      message: `${hole.name} is built in: name the hole differently and set it in a later step`,
    }));
}
