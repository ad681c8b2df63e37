/** Most operators in one formula: an operation holds all that is before it, so that a long chain nests deeply. */
export const mostOperators = 200;

/**
 * Parses operands with operators of one rank between them, of which the left one binds first: `a - b - c` is
 * `(a - b) - c`. `operator` takes the next of its rank, or gives undefined where none comes.
 */
export function leftAssociative<Node, Operator>(
  operand: () => Node,
  operator: () => Operator | undefined,
  join: (operator: Operator, left: Node, right: Node) => Node,
): Node {
  let left = operand();
  for (let next = operator(); next !== undefined; next = operator()) left = join(next, left, operand());
  return left;
}
