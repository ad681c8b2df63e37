/** A set of bytes: entry `b` is 1 when byte `b` belongs to it. */
export type ByteSet = Uint8Array;

/** A parsed pattern. `repeat` runs from `low` to `high` times, `Infinity` for no end. */
export type PatternNode =
  | { readonly kind: 'bytes'; readonly set: ByteSet }
  | { readonly kind: 'sequence'; readonly parts: readonly PatternNode[] }
  | { readonly kind: 'either'; readonly parts: readonly PatternNode[] }
  | { readonly kind: 'repeat'; readonly part: PatternNode; readonly low: number; readonly high: number }
  | { readonly kind: 'start' }
  | { readonly kind: 'end' };

/** Why a pattern is refused, and where (offset into the pattern). */
export class PatternFault extends Error {
  constructor(
    message: string,
    readonly position: number,
  ) {
    super(message);
  }
}

/** Highest count in `{n,m}`; larger ones would make the automaton too big. */
const maxRepeat = 200;

const shorthand: Readonly<Record<string, (code: number) => boolean>> = {
  d: (c) => c >= 48 && c <= 57,
  w: (c) => (c >= 48 && c <= 57) || (c >= 65 && c <= 90) || (c >= 97 && c <= 122) || c === 95,
  s: (c) => c === 32 || (c >= 9 && c <= 13),
};

const controls: Readonly<Record<string, number>> = { n: 10, r: 13, t: 9, f: 12, v: 11, 0: 0 };

/**
 * Parses a regular expression without look-around and back-references. Throws {@link PatternFault}.
 * With `anyCase`, ASCII letters match in either case.
 */
export function parsePattern(pattern: string, anyCase: boolean): PatternNode {
  return new PatternParser(pattern, anyCase).parse();
}

class PatternParser {
  private at = 0;

  constructor(
    private readonly pattern: string,
    private readonly anyCase: boolean,
  ) {}

  parse(): PatternNode {
    const node = this.either();
    if (this.at < this.pattern.length) throw new PatternFault('this ) closes nothing', this.at);
    return node;
  }

  private either(): PatternNode {
    const parts = [this.sequence()];
    while (this.take('|')) parts.push(this.sequence());
    return parts.length === 1 ? (parts[0] as PatternNode) : { kind: 'either', parts };
  }

  private sequence(): PatternNode {
    const parts: PatternNode[] = [];
    while (this.at < this.pattern.length && !this.sees('|') && !this.sees(')')) parts.push(this.repeated());
    return parts.length === 1 ? (parts[0] as PatternNode) : { kind: 'sequence', parts };
  }

  private repeated(): PatternNode {
    let part = this.single();
    for (;;) {
      const start = this.at;
      const range = this.quantifier();
      if (!range) return part;
      const [low, high] = range;
      const most = Number.isFinite(high) ? high : low;
      if (most > maxRepeat || high < low) {
        throw new PatternFault(`a repetition runs from a smaller to a larger count, at most ${maxRepeat}`, start);
      }
      // Whether a repetition takes much or little first makes no difference to whether there is a match.
      this.take('?');
      part = { kind: 'repeat', part, low, high };
    }
  }

  private quantifier(): readonly [number, number] | undefined {
    if (this.take('*')) return [0, Number.POSITIVE_INFINITY];
    if (this.take('+')) return [1, Number.POSITIVE_INFINITY];
    if (this.take('?')) return [0, 1];
    const counted = /^\{(\d+)(,(\d*))?\}/.exec(this.pattern.slice(this.at));
    if (!counted) return undefined;
    this.at += counted[0].length;
    const low = Number(counted[1]);
    if (!counted[2]) return [low, low];
    return [low, counted[3] ? Number(counted[3]) : Number.POSITIVE_INFINITY];
  }

  private single(): PatternNode {
    const start = this.at;
    const char = this.next();
    switch (char) {
      case '(':
        return this.group(start);
      case '[':
        return this.characterClass(start);
      case '.':
        return anyCharacter((code) => code !== 10);
      case '^':
        return { kind: 'start' };
      case '$':
        return { kind: 'end' };
      case '*':
      case '+':
      case '?':
        throw new PatternFault(`${char} has nothing before it to repeat`, start);
      case '\\':
        return this.escape(start);
      default:
        return this.literal(char);
    }
  }

  private group(start: number): PatternNode {
    if (this.sees('?')) {
      const kind = this.pattern.slice(this.at, this.at + 3);
      if (/^\?(=|!|<=|<!)/.test(kind)) {
        throw new PatternFault('look-around cannot be matched in linear time', start);
      }
      const opening = /^\?(?::|<\w+>)/.exec(this.pattern.slice(this.at));
      if (!opening) throw new PatternFault('this kind of group is not known', start);
      this.at += opening[0].length;
    }
    const inner = this.either();
    if (!this.take(')')) throw new PatternFault('this ( is not closed', start);
    return inner;
  }

  private escape(start: number): PatternNode {
    const char = this.next();
    if (/[1-9k]/.test(char)) throw new PatternFault('back-references cannot be matched in linear time', start);
    if (char === 'b' || char === 'B') {
      throw new PatternFault(
        'word boundaries are not known here: a bare word in the condition matches whole words',
        start,
      );
    }
    const short = shorthand[char.toLowerCase()];
    if (short) return char === char.toLowerCase() ? byteNode(short) : anyCharacter((code) => !short(code));
    const code = this.escapedCode(char, start);
    return this.literal(String.fromCharCode(code));
  }

  private escapedCode(char: string, start: number): number {
    const control = controls[char];
    if (control !== undefined) return control;
    if (char === 'x' || char === 'u') {
      const length = char === 'x' ? 2 : 4;
      const digits = this.pattern.slice(this.at, this.at + length);
      if (digits.length !== length || /[^0-9a-f]/i.test(digits)) {
        throw new PatternFault(`\\${char} is followed by ${length} hexadecimal digits`, start);
      }
      this.at += length;
      return Number.parseInt(digits, 16);
    }
    if (/[a-z0-9]/i.test(char)) throw new PatternFault(`\\${char} is not known`, start);
    return char.charCodeAt(0);
  }

  private characterClass(start: number): PatternNode {
    const negated = this.take('^');
    const set = new Uint8Array(128);
    const others: PatternNode[] = [];
    let first = true;
    while (first || !this.sees(']')) {
      if (this.at >= this.pattern.length) throw new PatternFault('this [ is not closed', start);
      first = false;
      this.classItem(set, others);
    }
    this.at++;
    if (this.anyCase) foldCase(set);
    if (!negated) {
      const ascii = byteNode((code) => code < 128 && set[code] === 1);
      return others.length === 0 ? ascii : { kind: 'either', parts: [ascii, ...others] };
    }
    if (others.length > 0) throw new PatternFault('a negated set holds ASCII characters only', start);
    return anyCharacter((code) => set[code] !== 1);
  }

  private classItem(set: Uint8Array, others: PatternNode[]): void {
    const start = this.at;
    const low = this.classCharacter(set);
    if (low === undefined) return;
    let high = low;
    if (this.sees('-') && this.pattern[this.at + 1] !== ']' && this.at + 1 < this.pattern.length) {
      this.at++;
      high = this.classCharacter(set) ?? low;
    }
    if (high < low) throw new PatternFault('this range runs backwards', start);
    if (high > 127 && high !== low) throw new PatternFault('ranges in [ ] are for ASCII characters', start);
    if (high > 127) others.push(this.literal(String.fromCodePoint(high)));
    else for (let code = low; code <= high; code++) set[code] = 1;
  }

  /** The code of one member of a set; undefined when it was a shorthand, which is added to the set. */
  private classCharacter(set: Uint8Array): number | undefined {
    const start = this.at;
    const char = this.next();
    if (char !== '\\') return char.codePointAt(0) as number;
    const escaped = this.next();
    const short = shorthand[escaped];
    if (short) {
      for (let code = 0; code < 128; code++) if (short(code)) set[code] = 1;
      return undefined;
    }
    if (shorthand[escaped.toLowerCase()]) throw new PatternFault(`\\${escaped} cannot stand inside [ ]`, start);
    return escaped === '-' || escaped === 'b' ? (escaped === 'b' ? 8 : 45) : this.escapedCode(escaped, start);
  }

  private literal(char: string): PatternNode {
    const bytes = new TextEncoder().encode(char);
    const parts = Array.from(bytes, (byte): PatternNode => {
      const set = new Uint8Array(256);
      set[byte] = 1;
      if (this.anyCase) foldCase(set);
      return { kind: 'bytes', set };
    });
    return parts.length === 1 ? (parts[0] as PatternNode) : { kind: 'sequence', parts };
  }

  private sees(char: string): boolean {
    return this.pattern[this.at] === char;
  }

  private take(char: string): boolean {
    if (!this.sees(char)) return false;
    this.at++;
    return true;
  }

  private next(): string {
    const code = this.pattern.codePointAt(this.at);
    if (code === undefined) throw new PatternFault('the pattern ends too early', this.at);
    const char = String.fromCodePoint(code);
    this.at += char.length;
    return char;
  }
}

function foldCase(set: Uint8Array): void {
  for (let code = 65; code <= 90; code++) {
    const either = set[code] === 1 || set[code + 32] === 1 ? 1 : 0;
    set[code] = either;
    set[code + 32] = either;
  }
}

function byteNode(accepts: (code: number) => boolean): PatternNode {
  const set = new Uint8Array(256);
  for (let code = 0; code < 256; code++) if (accepts(code)) set[code] = 1;
  return { kind: 'bytes', set };
}

/** An ASCII character that is accepted, or any character beyond ASCII (a lead byte and its followers). */
function anyCharacter(acceptsAscii: (code: number) => boolean): PatternNode {
  const follower = byteNode((code) => code >= 0x80 && code <= 0xbf);
  return {
    kind: 'either',
    parts: [
      byteNode((code) => code < 128 && acceptsAscii(code)),
      {
        kind: 'sequence',
        parts: [
          byteNode((code) => code >= 0xc0),
          { kind: 'repeat', part: follower, low: 1, high: Number.POSITIVE_INFINITY },
        ],
      },
    ],
  };
}
