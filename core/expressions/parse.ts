import { parseQuantity } from '../events/units.ts';
import { nearest } from '../patterns/nearest.ts';
import { functions } from './functions.ts';
import { leftAssociative, mostOperators } from './left-associative.ts';

/** The meaning of an expression. */
export type Expression =
  | { readonly kind: 'number'; readonly value: number }
  | { readonly kind: 'text'; readonly value: string }
  | { readonly kind: 'field'; readonly name: string }
  | { readonly kind: 'negative'; readonly of: Expression }
  | { readonly kind: 'operation'; readonly operator: Operator; readonly left: Expression; readonly right: Expression }
  | { readonly kind: 'call'; readonly name: string; readonly inputs: readonly Expression[] };

/** `&` puts texts together; the others are arithmetic. */
export type Operator = '+' | '-' | '*' | '/' | '%' | '&';

/** What is wrong with an expression, and where. */
export interface ExpressionProblem {
  readonly message: string;
  readonly start: number;
  readonly end: number;
  readonly suggestion?: string;
}

export type ParsedExpression =
  | { readonly ok: true; readonly expression: Expression; readonly fields: readonly string[] }
  | { readonly ok: false; readonly problem: ExpressionProblem };

interface Piece {
  readonly kind: 'number' | 'text' | 'name' | 'sign';
  readonly text: string;
  readonly start: number;
  readonly end: number;
}

const shapes: readonly (readonly [Piece['kind'], RegExp])[] = [
  ['number', /\d+(?:\.\d+)?[A-Za-zµ]*/y],
  ['text', /"((?:[^"\\]|\\.)*)"/y],
  ['name', /`([^`]+)`|[A-Za-z_@][\w.@]*/y],
  ['sign', /[-+*/%&(),]/y],
];

/** Deepest nesting of brackets and calls. */
const deepest = 50;

class Fault extends Error {
  constructor(readonly problem: ExpressionProblem) {
    super(problem.message);
  }
}

/** Parses `bytes / 1024`, `lower(method) & " " & path`, `round(took * 1000, 1)`. */
export function parseExpression(text: string): ParsedExpression {
  try {
    const parser = new ExpressionParser(text, cut(text));
    return { ok: true, expression: parser.whole(), fields: [...parser.fields] };
  } catch (fault) {
    if (!(fault instanceof Fault)) throw fault;
    return { ok: false, problem: fault.problem };
  }
}

class ExpressionParser {
  readonly fields = new Set<string>();
  private at = 0;
  private depth = 0;
  private operators = 0;

  constructor(
    private readonly text: string,
    private readonly pieces: readonly Piece[],
  ) {}

  whole(): Expression {
    const expression = this.joined();
    if (this.at < this.pieces.length) this.fail('an operator such as + or &');
    return expression;
  }

  private joined(): Expression {
    return this.operations(['&'], () => this.sum());
  }

  private sum(): Expression {
    return this.operations(['+', '-'], () => this.product());
  }

  private product(): Expression {
    return this.operations(['*', '/', '%'], () => this.value());
  }

  private operations(operators: readonly Operator[], operand: () => Expression): Expression {
    return leftAssociative(
      operand,
      () => operators.find((sign) => this.take(sign)),
      (operator, left, right) => {
        if (++this.operators > mostOperators) this.fail(`at most ${mostOperators} operators`);
        return { kind: 'operation', operator, left, right };
      },
    );
  }

  private value(): Expression {
    if (++this.depth > deepest) this.fail('less nesting');
    try {
      return this.plainValue();
    } finally {
      this.depth--;
    }
  }

  private plainValue(): Expression {
    if (this.take('-')) return { kind: 'negative', of: this.value() };
    if (this.take('(')) {
      const inner = this.joined();
      this.expect(')');
      return inner;
    }
    const piece = this.pieces[this.at];
    if (!piece || piece.kind === 'sign') this.fail('a field, a number, a text in quotes or a function');
    this.at++;
    if (piece.kind === 'text') return { kind: 'text', value: piece.text };
    if (piece.kind === 'number') {
      const quantity = parseQuantity(piece.text);
      if (quantity) return { kind: 'number', value: quantity.value };
      this.at--;
      this.fail('a number with a unit that is known');
    }
    if (this.take('(')) return this.call(piece);
    this.fields.add(piece.text);
    return { kind: 'field', name: piece.text };
  }

  private call(piece: Piece): Expression {
    const name = piece.text.toLowerCase();
    const known = functions.get(name);
    if (!known) {
      const suggestion = nearest(name, [...functions.keys()]);
      const { start, end } = piece;
      throw new Fault({ message: `there is no function ${piece.text}`, start, end, ...(suggestion && { suggestion }) });
    }
    const inputs: Expression[] = [];
    if (!this.take(')')) {
      do inputs.push(this.joined());
      while (this.take(','));
      this.expect(')');
    }
    if (inputs.length < known.least || inputs.length > known.most) {
      const { start, end } = piece;
      throw new Fault({ message: `${name} is written ${known.usage}`, start, end });
    }
    return { kind: 'call', name, inputs };
  }

  private take(sign: string): boolean {
    const piece = this.pieces[this.at];
    if (piece?.kind !== 'sign' || piece.text !== sign) return false;
    this.at++;
    return true;
  }

  private expect(sign: string): void {
    if (!this.take(sign)) this.fail(`a ${sign}`);
  }

  private fail(expected: string): never {
    const piece = this.pieces[this.at];
    const start = piece?.start ?? this.text.length;
    throw new Fault({ message: `expected ${expected}`, start, end: piece?.end ?? start });
  }
}

function cut(text: string): readonly Piece[] {
  const pieces: Piece[] = [];
  let at = 0;
  while (at < text.length) {
    if (/\s/.test(text.charAt(at))) {
      at++;
      continue;
    }
    const piece = pieceAt(text, at);
    if (!piece) {
      const message = text.charAt(at) === '"' ? 'this text is not closed' : `${text.charAt(at)} means nothing here`;
      throw new Fault({ message, start: at, end: at + 1 });
    }
    pieces.push(piece);
    at = piece.end;
  }
  return pieces;
}

function pieceAt(text: string, at: number): Piece | undefined {
  for (const [kind, shape] of shapes) {
    shape.lastIndex = at;
    const found = shape.exec(text);
    if (!found) continue;
    const written = kind === 'text' ? (found[1] as string).replace(/\\(.)/g, '$1') : (found[1] ?? found[0]);
    return { kind, text: written, start: at, end: at + found[0].length };
  }
  return undefined;
}
