import { parseDuration, parseQuantity } from '../events/units.ts';
import { leftAssociative, mostOperators } from '../expressions/left-associative.ts';
import { nearest } from '../patterns/nearest.ts';
import {
  type Aggregate,
  type AggregateFunction,
  aggregateFunctions,
  type Formula,
  type Summary,
  type SummaryColumn,
  type SummaryHaving,
  type SummaryProblem,
} from './summary.ts';

export type ParsedSummary =
  | { readonly ok: true; readonly summary: Summary }
  | { readonly ok: false; readonly problem: SummaryProblem };

interface Piece {
  readonly text: string;
  readonly start: number;
  readonly quoted: boolean;
}

/** Words that have a meaning in a summary: a field of such a name is in back quotes. */
export const summaryWords = ['by', 'every', 'having', 'sort', 'top', 'as', 'asc', 'desc'] as const;

const pieceShape = /`([^`]*)`|[A-Za-z_@][\w.@]*|\d+(?:\.\d+)?[A-Za-z]*|[<>!]=|[-+*/(),=<>]/y;

class Fault extends Error {
  constructor(readonly problem: SummaryProblem) {
    super(problem.message);
  }
}

/** Parses `count(), p95(took) by service every 1m having … sort by … desc top 10`. */
export function parseSummary(text: string): ParsedSummary {
  try {
    return { ok: true, summary: new SummaryParser(text).summary() };
  } catch (fault) {
    if (!(fault instanceof Fault)) throw fault;
    return { ok: false, problem: fault.problem };
  }
}

const maxKeys = 4;
/** Deepest nesting of brackets and calls. */
const deepest = 50;

class SummaryParser {
  private readonly pieces: readonly Piece[];
  private at = 0;
  private depth = 0;
  private operators = 0;
  private readonly aggregates: Aggregate[] = [];

  constructor(private readonly text: string) {
    this.pieces = cut(text);
  }

  summary(): Summary {
    const columns = [this.column()];
    while (this.take(',')) columns.push(this.column());
    let by: readonly string[] = [];
    let every = 0;
    let having: SummaryHaving | undefined;
    let sort: Summary['sort'];
    let top = 0;
    while (this.at < this.pieces.length) {
      if (this.take('by')) by = this.keys();
      else if (this.take('every')) every = this.every();
      else if (this.take('having')) having = this.having();
      else if (this.take('sort')) sort = this.sorting(columns);
      else if (this.take('top')) top = this.top();
      else this.fail('one of by, every, having, sort by, top');
    }
    return {
      text: this.text,
      columns,
      aggregates: this.aggregates,
      by,
      every,
      ...(having && { having }),
      ...(sort && { sort }),
      top,
    };
  }

  private column(): SummaryColumn {
    const start = this.pieces[this.at]?.start ?? this.text.length;
    const formula = this.formula();
    const end = this.pieces[this.at]?.start ?? this.text.length;
    const written = this.text.slice(start, end).trim();
    if (!this.take('as')) return { name: written, formula };
    return { name: this.name('the name of the column'), formula };
  }

  private formula(): Formula {
    return this.operations(['+', '-'], () => this.operations(['*', '/'], () => this.factor()));
  }

  private operations(operators: readonly ('+' | '-' | '*' | '/')[], operand: () => Formula): Formula {
    return leftAssociative(
      operand,
      () => operators.find((sign) => this.take(sign)),
      (operator, left, right) => {
        if (++this.operators > mostOperators) this.fail(`at most ${mostOperators} operators`);
        return { kind: 'arithmetic', operator, left, right };
      },
    );
  }

  private factor(): Formula {
    if (++this.depth > deepest) this.fail('less nesting');
    const factor = this.plainFactor();
    this.depth--;
    return factor;
  }

  private plainFactor(): Formula {
    if (this.take('(')) {
      const inner = this.formula();
      this.expect(')');
      return inner;
    }
    const piece = this.pieces[this.at];
    if (!piece) this.fail('a function such as count()');
    const quantity = /^\d/.test(piece.text) ? parseQuantity(piece.text) : undefined;
    if (quantity) {
      this.at++;
      return { kind: 'number', value: quantity.value };
    }
    if (this.pieces[this.at + 1]?.text === '(' && !piece.quoted) return this.call(piece);
    return { kind: 'column', name: this.name('a function such as count()') };
  }

  private call(piece: Piece): Formula {
    const name = piece.text.toLowerCase();
    if (name === 'age') {
      this.at += 2;
      const of = this.formula();
      this.expect(')');
      return { kind: 'age', of };
    }
    if (!(aggregateFunctions as readonly string[]).includes(name)) {
      const suggestion = nearest(name, aggregateFunctions);
      this.fail(`a function; ${piece.text} is none`, suggestion);
    }
    this.at += 2;
    const field = this.pieces[this.at]?.text === ')' ? undefined : this.name('a field');
    this.expect(')');
    const wanted: Aggregate = { function: name as AggregateFunction, ...(field && { field }) };
    if (!field && name !== 'count' && name !== 'rate') {
      this.at -= 1;
      this.fail(`the field to take ${name} of`);
    }
    const known = this.aggregates.findIndex(
      (other) => other.function === wanted.function && other.field === wanted.field,
    );
    return { kind: 'aggregate', index: known >= 0 ? known : this.aggregates.push(wanted) - 1 };
  }

  private keys(): readonly string[] {
    const keys = [this.name('a field to group by')];
    while (this.take(',')) keys.push(this.name('a field to group by'));
    if (keys.length > maxKeys) this.fail(`at most ${maxKeys} fields to group by`);
    return keys;
  }

  private every(): number {
    const piece = this.pieces[this.at];
    const duration = piece && parseDuration(piece.text);
    if (!duration || duration < 1) this.fail('a duration such as 1m');
    this.at++;
    return duration;
  }

  private having(): SummaryHaving {
    const formula = this.formula();
    const operator = this.pieces[this.at]?.text;
    if (!operator || !/^(=|!=|<=?|>=?)$/.test(operator)) this.fail('one of = != < <= > >=');
    this.at++;
    const negative = this.take('-');
    const written = this.pieces[this.at]?.text ?? '';
    const quantity = parseQuantity(written);
    if (!quantity) this.fail('a number, with a unit where it has one');
    this.at++;
    return {
      formula,
      operator: operator as SummaryHaving['operator'],
      value: negative ? -quantity.value : quantity.value,
      written: negative ? `-${written}` : written,
    };
  }

  private sorting(columns: readonly SummaryColumn[]): { column: string; descending: boolean } {
    this.expect('by');
    const start = this.pieces[this.at]?.start ?? this.text.length;
    this.formula();
    const end = this.pieces[this.at]?.start ?? this.text.length;
    const column = this.text.slice(start, end).trim().replaceAll('`', '');
    const ascending = this.take('asc');
    const descending = !ascending && (this.take('desc') || columns.some((candidate) => candidate.name === column));
    return { column, descending };
  }

  private top(): number {
    const n = Number(this.pieces[this.at]?.text);
    if (!Number.isInteger(n) || n < 1) this.fail('how many groups to show');
    this.at++;
    return n;
  }

  private name(expected: string): string {
    const piece = this.pieces[this.at];
    if (!piece || (!piece.quoted && !/^[A-Za-z_@]/.test(piece.text))) this.fail(expected);
    this.at++;
    return piece.text;
  }

  private take(word: string): boolean {
    const piece = this.pieces[this.at];
    if (!piece || piece.quoted || piece.text.toLowerCase() !== word) return false;
    this.at++;
    return true;
  }

  private expect(word: string): void {
    if (!this.take(word)) this.fail(word === 'by' ? 'by' : `a ${word}`);
  }

  private fail(expected: string, suggestion?: string): never {
    const piece = this.pieces[this.at];
    const start = piece?.start ?? this.text.length;
    const end = piece ? start + piece.text.length : start;
    throw new Fault({ message: `expected ${expected}`, start, end, ...(suggestion && { suggestion }) });
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
    pieceShape.lastIndex = at;
    const found = pieceShape.exec(text);
    if (!found)
      throw new Fault({
        message: `expected a function, a name or a number, not ${text.charAt(at)}`,
        start: at,
        end: at + 1,
      });
    pieces.push({ text: found[1] ?? found[0], start: at, quoted: found[1] !== undefined });
    at += found[0].length;
  }
  return pieces;
}
