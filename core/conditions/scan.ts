import type { Span } from './ast.ts';

/** What a piece of a condition is, for colouring. */
export type TokenKind =
  | 'field'
  | 'operator'
  | 'keyword'
  | 'value'
  | 'text'
  | 'pattern'
  | 'bracket'
  | 'comment'
  | 'fault';

export interface Token extends Span {
  readonly kind: TokenKind;
}

const blank = /\s/;
/** Characters that end a bare word or name. */
const stops = new Set([...' \t\r\n()=!<>,"`']);
/** Characters that end a bare value, which may contain `=` and the like. */
const valueStops = new Set([...' \t\r\n(),"']);

/** Reads a condition piece by piece; the parser says what kind of piece it expects. */
export class ConditionScanner {
  at = 0;
  readonly tokens: Token[] = [];

  constructor(readonly text: string) {}

  /** Skips blanks and lines that begin with `#`. */
  skip(): void {
    for (;;) {
      while (this.at < this.text.length && blank.test(this.text.charAt(this.at))) this.at++;
      if (this.text.charAt(this.at) !== '#' || !this.atLineStart()) return;
      const start = this.at;
      const end = this.text.indexOf('\n', start);
      this.at = end < 0 ? this.text.length : end;
      this.tokens.push({ kind: 'comment', start, end: this.at });
    }
  }

  get done(): boolean {
    this.skip();
    return this.at >= this.text.length;
  }

  /** The next character, without taking it. */
  peek(): string {
    this.skip();
    return this.text.charAt(this.at);
  }

  /** Takes `text` when it comes next. */
  take(text: string, kind: TokenKind): boolean {
    this.skip();
    if (!this.text.startsWith(text, this.at)) return false;
    this.mark(kind, this.at, this.at + text.length);
    this.at += text.length;
    return true;
  }

  /** Takes a keyword (in any case) when it comes next as a whole word. */
  takeKeyword(word: string): boolean {
    if (!this.seesKeyword(word)) return false;
    this.mark('keyword', this.at, this.at + word.length);
    this.at += word.length;
    return true;
  }

  seesKeyword(word: string): boolean {
    this.skip();
    const end = this.at + word.length;
    if (this.text.slice(this.at, end).toLowerCase() !== word) return false;
    return end >= this.text.length || stops.has(this.text.charAt(end));
  }

  /** The bare run of characters that comes next, without taking it; empty when a stop comes first. */
  bare(asValue: boolean): Span {
    this.skip();
    const set = asValue ? valueStops : stops;
    let end = this.at;
    while (end < this.text.length && !set.has(this.text.charAt(end))) end++;
    return { start: this.at, end };
  }

  /** Takes a text in quotes (`\"` and `\\` inside) or back quotes; undefined where it is not closed. */
  quoted(quote: '"' | '`', kind: TokenKind): { text: string; span: Span } | undefined {
    const start = this.at;
    let text = '';
    let end = start + 1;
    for (; end < this.text.length && this.text.charAt(end) !== quote; end++) {
      if (quote === '"' && this.text.charAt(end) === '\\' && /["\\]/.test(this.text.charAt(end + 1))) end++;
      text += this.text.charAt(end);
    }
    if (end >= this.text.length) return undefined;
    this.at = end + 1;
    this.mark(kind, start, this.at);
    return { text, span: { start, end: this.at } };
  }

  mark(kind: TokenKind, start: number, end: number): void {
    this.tokens.push({ kind, start, end });
  }

  private atLineStart(): boolean {
    const before = this.text.slice(this.text.lastIndexOf('\n', this.at - 1) + 1, this.at);
    return before.trim() === '';
  }
}
