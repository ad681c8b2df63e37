import { LineCounter, parseDocument, stringify } from 'yaml';
import { checkPlan, type PlanProblem } from './check.ts';
import { firstPlan, type PipelineDocument, type PlanDocument } from './document.ts';

/** Something wrong in the text of a plan, with its line and column, from 1. */
export interface PlanTextProblem extends PlanProblem {
  readonly line: number;
  readonly column: number;
}

export type ReadPlan =
  | { readonly ok: true; readonly plan: PlanDocument }
  | { readonly ok: false; readonly problems: readonly PlanTextProblem[] };

/** A plan as YAML. */
export function writePlan(plan: PlanDocument): string {
  return stringify(plan, { lineWidth: 0 });
}

/** One pipeline as YAML, under the key `pipeline`. */
export function writePipeline(pipeline: PipelineDocument): string {
  return stringify({ pipeline }, { lineWidth: 0 });
}

/** Reads a plan from YAML (or JSON, which YAML 1.2 contains) and checks it; every fault is named with its place. */
export function readPlan(text: string): ReadPlan {
  const read = readText(text);
  if ('problems' in read) return { ok: false, problems: read.problems };
  const checked = checkPlan(read.value);
  if (checked.ok) return checked;
  return { ok: false, problems: checked.problems.map((problem) => ({ ...problem, ...read.placeOf(problem.path) })) };
}

export type ReadPipeline =
  | { readonly ok: true; readonly pipeline: PipelineDocument }
  | { readonly ok: false; readonly problems: readonly PlanTextProblem[] };

/** Reads what {@link writePipeline} wrote, and checks it. */
export function readPipeline(text: string): ReadPipeline {
  const read = readText(text);
  if ('problems' in read) return { ok: false, problems: read.problems };
  const value: unknown = read.value;
  const pipeline = typeof value === 'object' && value !== null && 'pipeline' in value ? value.pipeline : undefined;
  const checked = checkPlan({ ...firstPlan, pipelines: [pipeline] });
  if (checked.ok) return { ok: true, pipeline: checked.plan.pipelines[0] as PipelineDocument };
  return {
    ok: false,
    problems: checked.problems.map((problem) => {
      const path = problem.path.replace(/^pipelines\[0\]/, 'pipeline');
      return { ...problem, path, ...read.placeOf(path) };
    }),
  };
}

interface ReadText {
  readonly value: unknown;
  /** Line and column of what a path names, or of the nearest thing above it that is there. */
  readonly placeOf: (path: string) => { readonly line: number; readonly column: number };
}

function readText(text: string): ReadText | { readonly problems: readonly PlanTextProblem[] } {
  const counter = new LineCounter();
  const document = parseDocument(text, { lineCounter: counter, prettyErrors: false });
  const place = (offset: number) => {
    const { line, col } = counter.linePos(offset);
    return { line, column: col };
  };
  if (document.errors.length > 0) {
    return { problems: document.errors.map(({ message, pos }) => ({ path: '', message, ...place(pos[0]) })) };
  }
  let value: unknown;
  try {
    // Aliases are expanded a hundredfold at most: more would be made to fill the memory.
    value = document.toJS({ maxAliasCount: 100 });
  } catch (error) {
    return {
      problems: [{ path: '', message: error instanceof Error ? error.message : String(error), line: 1, column: 1 }],
    };
  }
  return {
    value,
    placeOf: (path) => {
      const keys = [...path.matchAll(/[^.[\]]+/g)].map(([key]) => (/^\d+$/.test(key) ? Number(key) : key));
      for (let length = keys.length; length > 0; length--) {
        const node: unknown = document.getIn(keys.slice(0, length), true);
        if (typeof node === 'object' && node !== null && 'range' in node && Array.isArray(node.range))
          return place(Number(node.range[0]));
      }
      return { line: 1, column: 1 };
    },
  };
}
