import { parseQuantity } from '../events/units.ts';
import { nearest } from '../patterns/nearest.ts';
import { PatternFault } from '../patterns/parse.ts';
import { compilePattern } from '../patterns/pattern.ts';
import type { CompareOperator, ConditionNode, ConditionProblem, ConditionValue, Span } from './ast.ts';
import { ConditionScanner, type Token } from './scan.ts';

export interface ParsedCondition {
  readonly node: ConditionNode;
  readonly tokens: readonly Token[];
  /** The saved searches that stand in it, in order; in `node` each stands as `everything`. */
  readonly saved: readonly SavedMention[];
  /** Where the parts stand of which all have to hold; one for a condition that is a choice, none for the empty one. */
  readonly parts: readonly Span[];
  readonly problem?: ConditionProblem;
}

/** Where a saved search is in a condition. */
export interface SavedMention extends Span {
  readonly name: string;
}

const operators: readonly CompareOperator[] = ['!=', '<=', '>=', '=', '<', '>'];
const wrongOperators: Readonly<Record<string, string>> = {
  '==': '=',
  '=~': 'matches',
  '!~': 'not … matches',
  '<>': '!=',
  ':': '=',
};

/** How deep brackets may nest. */
const maxDepth = 100;

class Fault extends Error {
  constructor(readonly problem: ConditionProblem) {
    super(problem.message);
  }
}

/** Parses a condition. A condition that is wrong gives `everything` and the problem that was met first. */
export function parseCondition(text: string): ParsedCondition {
  const parser = new ConditionParser(text);
  try {
    const node = parser.whole();
    return { node, tokens: parser.scanner.tokens, saved: parser.saved, parts: parser.parts };
  } catch (fault) {
    if (!(fault instanceof Fault)) throw fault;
    return {
      node: { kind: 'everything' },
      tokens: parser.scanner.tokens,
      saved: [],
      parts: [],
      problem: fault.problem,
    };
  }
}

class ConditionParser {
  readonly scanner: ConditionScanner;
  readonly saved: SavedMention[] = [];
  parts: Span[] = [];
  private depth = 0;

  constructor(text: string) {
    this.scanner = new ConditionScanner(text);
  }

  whole(): ConditionNode {
    if (this.scanner.done) return { kind: 'everything' };
    const node = this.either();
    if (!this.scanner.done) this.fail('a condition; this ) closes nothing', this.scanner.at, this.scanner.at + 1);
    return node;
  }

  private either(): ConditionNode {
    const { start } = this.scanner.bare(false);
    const parts = [this.all()];
    while (this.scanner.takeKeyword('or')) parts.push(this.all());
    if (this.depth === 0 && parts.length > 1) this.parts = [{ start, end: this.lastEnd }];
    return parts.length === 1 ? (parts[0] as ConditionNode) : { kind: 'or', parts };
  }

  private all(): ConditionNode {
    const parts = [this.part()];
    for (;;) {
      const explicit = this.scanner.takeKeyword('and');
      const ends = this.scanner.done || this.scanner.peek() === ')' || this.scanner.seesKeyword('or');
      if (ends && !explicit) break;
      parts.push(this.part());
    }
    return parts.length === 1 ? (parts[0] as ConditionNode) : { kind: 'and', parts };
  }

  /** A part of several that all have to hold; outside of brackets its place is kept. */
  private part(): ConditionNode {
    const { start } = this.scanner.bare(false);
    const node = this.single();
    if (this.depth === 0) this.parts.push({ start, end: this.lastEnd });
    return node;
  }

  /** Where the last piece ends that was taken. */
  private get lastEnd(): number {
    return this.scanner.tokens.findLast(({ kind }) => kind !== 'comment')?.end ?? 0;
  }

  private single(): ConditionNode {
    const { scanner } = this;
    if (scanner.done) this.fail('a word or a field here, but the condition ends', scanner.at, scanner.at);
    const start = scanner.at;
    if (++this.depth > maxDepth) this.fail(`at most ${maxDepth} levels of brackets and not`, start, start + 1);
    try {
      if (scanner.takeKeyword('not')) return { kind: 'not', part: this.single() };
      if (scanner.take('(', 'bracket')) {
        const inner = this.either();
        if (!scanner.take(')', 'bracket')) this.fail('a closing bracket for this (', start, start + 1, ')');
        return inner;
      }
    } finally {
      this.depth--;
    }
    if (scanner.peek() === '"') return this.phrase();
    return this.fieldOrWord();
  }

  private phrase(): ConditionNode {
    const { scanner } = this;
    const start = scanner.at;
    const quoted = scanner.quoted('"', 'text') ?? this.fail('a closing quote', start, scanner.text.length, '"');
    if (quoted.text === '') this.fail('some text between the quotes', start, quoted.span.end);
    return { kind: 'word', text: quoted.text, wordStart: false, wordEnd: false };
  }

  private fieldOrWord(): ConditionNode {
    const { scanner } = this;
    if (scanner.takeKeyword('has')) return { kind: 'has', field: this.fieldName() };
    const start = scanner.at;
    if (scanner.peek() === '`') return this.comparison(this.fieldName());
    const span = scanner.bare(false);
    if (span.end === span.start) {
      this.fail('a word, a field or a bracket', start, start + 1);
    }
    const name = scanner.text.slice(span.start, span.end);
    scanner.at = span.end;
    if (this.comparisonFollows()) {
      scanner.mark('field', span.start, span.end);
      return this.comparison(name);
    }
    const colon = /^([\w.@-]+):(.+)$/.exec(name);
    if (colon?.[1]?.toLowerCase() === 'saved') {
      this.saved.push({ name: colon[2] as string, ...span });
      scanner.mark('keyword', span.start, span.end);
      return { kind: 'everything' };
    }
    if (colon) this.fail('an operator; a field is compared with =', span.start, span.end, `${colon[1]} = ${colon[2]}`);
    scanner.mark('text', span.start, span.end);
    return word(name);
  }

  private comparisonFollows(): boolean {
    const { scanner } = this;
    const next = scanner.peek();
    return (next !== '' && '=!<>~'.includes(next)) || scanner.seesKeyword('in') || scanner.seesKeyword('matches');
  }

  private fieldName(): string {
    const { scanner } = this;
    const start = scanner.at;
    if (scanner.peek() === '`') {
      const quoted = scanner.quoted('`', 'field') ?? this.fail('a closing back quote', start, scanner.text.length, '`');
      return quoted.text;
    }
    const span = scanner.bare(false);
    if (span.start === span.end) this.fail('the name of a field', span.start, span.start + 1);
    scanner.mark('field', span.start, span.end);
    scanner.at = span.end;
    return scanner.text.slice(span.start, span.end);
  }

  private comparison(field: string): ConditionNode {
    const { scanner } = this;
    scanner.skip();
    const start = scanner.at;
    if (scanner.takeKeyword('in')) return this.membership(field);
    if (scanner.takeKeyword('matches')) return this.pattern(field);
    for (const [wrong, right] of Object.entries(wrongOperators)) {
      if (scanner.text.startsWith(wrong, start)) this.fail('an operator', start, start + wrong.length, right);
    }
    const operator = operators.find((candidate) => scanner.take(candidate, 'operator'));
    if (!operator) this.fail('one of = != < <= > >= in matches', start, start + 1);
    return { kind: 'compare', field, operator: operator as CompareOperator, value: this.value() };
  }

  private membership(field: string): ConditionNode {
    const { scanner } = this;
    if (scanner.take('(', 'bracket')) {
      const values = [this.value()];
      while (scanner.take(',', 'operator')) values.push(this.value());
      if (!scanner.take(')', 'bracket')) this.fail('a comma or a closing bracket', scanner.at, scanner.at + 1, ')');
      return { kind: 'in', field, values };
    }
    const span = scanner.bare(true);
    const text = scanner.text.slice(span.start, span.end);
    const dots = text.indexOf('..');
    if (dots < 0)
      this.fail('a list in brackets, or a range such as 500..599', span.start, Math.max(span.end, span.start + 1));
    scanner.mark('value', span.start, span.end);
    scanner.at = span.end;
    const low = text.slice(0, dots);
    const high = text.slice(dots + 2);
    if (low === '' && high === '') this.fail('at least one end of the range', span.start, span.end);
    return {
      kind: 'range',
      field,
      ...(low !== '' && { low: readValue(low, { start: span.start, end: span.start + dots }) }),
      ...(high !== '' && { high: readValue(high, { start: span.start + dots + 2, end: span.end }) }),
    };
  }

  private pattern(field: string): ConditionNode {
    const { scanner } = this;
    if (scanner.peek() !== '/') this.fail('a pattern between slashes, such as /^u\\d+$/', scanner.at, scanner.at + 1);
    const start = scanner.at;
    let end = start + 1;
    let inSet = false;
    for (; end < scanner.text.length; end++) {
      const char = scanner.text.charAt(end);
      if (char === '\\') end++;
      else if (char === '[') inSet = true;
      else if (char === ']') inSet = false;
      else if (char === '/' && !inSet) break;
    }
    if (end >= scanner.text.length) this.fail('the closing slash of the pattern', start, scanner.text.length, '/');
    const flags = /^[a-z]*/.exec(scanner.text.slice(end + 1))?.[0] ?? '';
    scanner.at = end + 1 + flags.length;
    scanner.mark('pattern', start, scanner.at);
    try {
      return { kind: 'matches', field, pattern: compilePattern(scanner.text.slice(start + 1, end), flags) };
    } catch (fault) {
      if (!(fault instanceof PatternFault)) throw fault;
      const at = start + 1 + fault.position;
      throw new Fault({ start: at, end: Math.min(at + 1, scanner.text.length), message: fault.message });
    }
  }

  private value(): ConditionValue {
    const { scanner } = this;
    const start = scanner.peek() === '' ? scanner.text.length : scanner.at;
    if (scanner.peek() === '"') {
      const quoted = scanner.quoted('"', 'value') ?? this.fail('a closing quote', start, scanner.text.length, '"');
      return { text: quoted.text, quoted: true, ...quoted.span };
    }
    const span = scanner.bare(true);
    if (span.end === span.start) this.fail('a value', start, start + 1);
    scanner.mark('value', span.start, span.end);
    scanner.at = span.end;
    return readValue(scanner.text.slice(span.start, span.end), span);
  }

  private fail(expected: string, start: number, end: number, suggestion?: string): never {
    throw new Fault({ start, end, message: `expected ${expected}`, ...(suggestion && { suggestion }) });
  }
}

function readValue(text: string, span: Span): ConditionValue {
  const quantity = parseQuantity(text);
  return {
    text,
    quoted: false,
    start: span.start,
    end: span.end,
    ...(quantity && { number: quantity.value, unit: quantity.unit }),
  };
}

function word(text: string): ConditionNode {
  const open = /^\*?(.*?)\*?$/s.exec(text)?.[1] ?? text;
  if (open === '') return { kind: 'everything' };
  return { kind: 'word', text: open, wordStart: !text.startsWith('*'), wordEnd: !text.endsWith('*') || text === '*' };
}

/** Names in a condition that no event is known to have, each with the nearest name that exists. */
export function unknownFields(text: string, known: readonly string[]): readonly ConditionProblem[] {
  const names = new Set(known.map((name) => name.toLowerCase()));
  return parseCondition(text)
    .tokens.filter((token) => token.kind === 'field')
    .map((token) => ({ token, name: text.slice(token.start, token.end).replaceAll('`', '') }))
    .filter(({ name }) => !names.has(name.toLowerCase()))
    .map(({ token, name }) => {
      const suggestion = nearest(name, known);
      return {
        start: token.start,
        end: token.end,
        message: `no event has a field ${name}`,
        ...(suggestion && { suggestion }),
      };
    });
}
