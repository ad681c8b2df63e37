import type { EventBatch } from '../events/batch.ts';
import type { ConditionNode } from './ast.ts';
import { type ConditionContext, evaluate } from './evaluate.ts';
import type { Mask } from './mask.ts';

/** For each row, whether a condition may hold, and whether it may not: both where that depends on what is not known. */
interface Possible {
  readonly may: Mask;
  readonly mayNot: Mask;
}

/**
 * The rows for which a condition may hold where only some fields of the events are known (`body` is asked for words).
 * Parts of the condition that look at other fields may hold or not (Kleene's logic of three values).
 */
export function mayHold(
  node: ConditionNode,
  batch: EventBatch,
  context: ConditionContext,
  isKnown: (field: string) => boolean,
): Mask {
  const possible = (part: ConditionNode): Possible => {
    switch (part.kind) {
      case 'and':
        return join(part.parts.map(possible), 'every');
      case 'or':
        return join(part.parts.map(possible), 'some');
      case 'not': {
        const { may, mayNot } = possible(part.part);
        return { may: mayNot, mayNot: may };
      }
      default: {
        const known = part.kind === 'everything' || isKnown(part.kind === 'word' ? 'body' : part.field.toLowerCase());
        const may = known ? evaluate(part, batch, context) : new Uint8Array(batch.rows).fill(1);
        return { may, mayNot: known ? may.map((holds) => holds ^ 1) : may };
      }
    }
  };
  return possible(node).may;
}

/** `every`: all parts have to hold; `some`: one of them. */
function join(parts: readonly Possible[], how: 'every' | 'some'): Possible {
  const other = how === 'every' ? 'some' : 'every';
  return {
    may: combine(
      parts.map(({ may }) => may),
      how,
    ),
    mayNot: combine(
      parts.map(({ mayNot }) => mayNot),
      other,
    ),
  };
}

function combine([first, ...rest]: readonly Mask[], how: 'every' | 'some'): Mask {
  const mask = Uint8Array.from(first ?? []);
  for (const other of rest)
    for (let row = 0; row < mask.length; row++)
      mask[row] =
        how === 'every'
          ? (mask[row] as number) & (other[row] as number)
          : (mask[row] as number) | (other[row] as number);
  return mask;
}
