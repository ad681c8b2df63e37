import { builtInFields, type ConditionNode } from '../conditions/ast.ts';
import { parseCondition } from '../conditions/parse.ts';
import { withPart } from '../conditions/parts.ts';
import { writeField } from '../conditions/write.ts';

/** Built-in fields with few values, which a widened condition keeps. */
const kept: ReadonlySet<string> = new Set(['source', 'tier', 'fleet', 'severity', 'shape']);
const builtIn: ReadonlySet<string> = new Set(builtInFields);

/**
 * A condition that matches at least the same events, but names no values of attributes: `source = web client = x "timeout"` becomes
 * `source = web has client`. Programs ask for thousands of values, and all of these questions become one.
 */
export function widened(text: string): string {
  return parseCondition(text).parts.reduce((wide, { start, end }) => {
    const part = text.slice(start, end);
    const wider = widenedPart(part);
    return wider === '' ? wide : withPart(wide, wider);
  }, '');
}

function widenedPart(part: string): string {
  const { node } = parseCondition(part);
  if (!('field' in node)) return '';
  const field = node.field.toLowerCase();
  if (kept.has(field)) return part;
  return builtIn.has(field) || !needsValue(node) ? '' : `has ${writeField(node.field)}`;
}

/** Whether only events that have the field can match. */
function needsValue(node: ConditionNode): boolean {
  return node.kind !== 'compare' || node.operator !== '!=';
}
