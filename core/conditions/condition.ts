import type { EventBatch } from '../events/batch.ts';
import { builtInFields, type ConditionNode, type ConditionProblem, type WordNode } from './ast.ts';
import { type ConditionContext, evaluate } from './evaluate.ts';
import type { Mask } from './mask.ts';
import { parseCondition } from './parse.ts';

/** A condition ready to be evaluated. */
export interface Condition {
  readonly text: string;
  readonly node: ConditionNode;
  /** The attributes it looks at, as written. */
  readonly attributes: readonly string[];
  /** Whether it looks at bodies. */
  readonly body: boolean;
  /** The words it looks for in bodies, for marking hits. */
  readonly words: readonly WordNode[];
  /** One byte per row: 1 where the condition holds. */
  readonly test: (batch: EventBatch, context: ConditionContext) => Mask;
}

export type CompiledCondition =
  | { readonly ok: true; readonly condition: Condition }
  | { readonly ok: false; readonly problem: ConditionProblem };

/** Compiles a condition in which no saved search stands (see `saved.ts`). The empty text means every event. */
export function compileCondition(text: string): CompiledCondition {
  const { node, saved, problem } = parseCondition(text);
  if (problem) return { ok: false, problem };
  const [mention] = saved;
  if (mention) {
    const message = `the saved search ${mention.name} is not known here: write the condition that it stands for`;
    return { ok: false, problem: { start: mention.start, end: mention.end, message } };
  }
  const fields = new Set<string>();
  const words: WordNode[] = [];
  visit(node, (part) => {
    if ('field' in part) fields.add(part.field);
    if (part.kind === 'word') words.push(part);
  });
  const builtIn: ReadonlySet<string> = new Set(builtInFields);
  return {
    ok: true,
    condition: {
      text,
      node,
      attributes: [...fields].filter((field) => !builtIn.has(field.toLowerCase())),
      body: words.length > 0 || [...fields].some((field) => field.toLowerCase() === 'body'),
      words,
      test: (batch, context) => evaluate(node, batch, context),
    },
  };
}

/** As {@link compileCondition}, for conditions that have been checked before; throws on a wrong one. */
export function conditionOf(text: string): Condition {
  const compiled = compileCondition(text);
  if (!compiled.ok) throw new Error(`${compiled.problem.message} at ${compiled.problem.start + 1}`);
  return compiled.condition;
}

/** Calls `each` for a node and everything below it. */
export function visit(node: ConditionNode, each: (node: ConditionNode) => void): void {
  each(node);
  if (node.kind === 'and' || node.kind === 'or') for (const part of node.parts) visit(part, each);
  if (node.kind === 'not') visit(node.part, each);
}
