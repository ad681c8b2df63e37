import { decode, encode, fnvBasis, fnvPrime, hashBytes } from '../events/text-table.ts';
import { byteKind, byteKinds, type Skeleton, tellingNames, valueHole } from './token.ts';

/** Most bytes and tokens of a line that are looked at. */
const mostBytes = 1_000;
const mostTokens = 240;

/** What a token is, in the scanner's tables. */
const tokenKinds = { word: 0, hole: 1, mark: 2, blank: 3 } as const;

/** A quoted stretch with so many words, or so many values, is a value as a whole. */
const quotedWords = 5;
const quotedValues = 3;

const quote = 34;
const equals = 61;
const slash = 47;
const dash = 45;
const backslash = 92;
const colon = 58;
const comma = 44;
const semicolon = 59;

/** What is mixed into the hash of a skeleton for a hole and for a blank: no byte of a mark. */
const holeCode = 1;
const blankCode = 32;

const seed = 0x2c1b3c6d;
const otherPrime = 0x5bd1e995;

const telling: ReadonlySet<number> = new Set(
  tellingNames.map((name) => {
    const bytes = encode(name);
    return hashBytes(bytes, 0, bytes.length);
  }),
);

/**
 * Takes lines apart into words, values, marks and blanks, each byte looked at once. Of a line in several rows the first row
 * counts. A word is a value where it has a digit or `@` in it, begins with a slash, or is a dash alone; in `key=value` the
 * value, unless the key is one of those that say what happened; of quoted text, what has five words or three values,
 * nothing but values, or is a field between commas. Words with capitals that follow each other are one name. So much is told by the line alone; which words vary is learnt from many ({@link ShapeFamilies}).
 */
export class LineScanner {
  /** Tokens of the line that was scanned last. */
  count = 0;
  /** Its hash: two halves of 32 bits. The same for lines with the same skeleton. */
  high = 0;
  low = 0;
  private readonly kinds = new Uint8Array(mostTokens + 2);
  private readonly starts = new Int32Array(mostTokens + 2);
  private readonly ends = new Int32Array(mostTokens + 2);

  /** Scans the line that stands in `bytes[start..end)`. */
  scan(bytes: Uint8Array, start: number, end: number): void {
    const { kinds, starts, ends } = this;
    const stop = lineEnd(bytes, start, end);
    let at = start;
    while (at < stop && byteKind[bytes[at] as number] === byteKinds.blank) at++;
    let high = fnvBasis;
    let low = seed;
    let count = 0;
    /** Whether a value of a pair follows, whatever it looks like. */
    let isPaired = false;
    /** The hash of the word that ends at `wordEnd`. */
    let word = 0;
    let wordEnd = -1;
    // What was known where the open quotation marks are.
    let quoteCount = -1;
    let quoteHigh = 0;
    let quoteLow = 0;
    let isQuotePaired = false;
    let isQuoteField = false;
    let words = 0;
    let values = 0;
    while (at < stop && count < mostTokens) {
      const byte = bytes[at] as number;
      const kind = byteKind[byte] as number;
      if (kind === byteKinds.blank) {
        const from = at++;
        while (at < stop && byteKind[bytes[at] as number] === byteKinds.blank) at++;
        high = mixed(high, blankCode);
        low = mixedToo(low, blankCode);
        kinds[count] = tokenKinds.blank;
        starts[count] = from;
        ends[count++] = at;
        isPaired = false;
        continue;
      }
      if (kind === byteKinds.mark) {
        const isQuote = byte === quote && bytes[at - 1] !== backslash;
        if (isQuote && quoteCount >= 0) {
          const isField = isQuoteField && isFieldEnd(bytes, at + 1, stop);
          if (isField || isQuotePaired || values === words || words >= quotedWords || values >= quotedValues) {
            high = mixed(quoteHigh, holeCode);
            low = mixedToo(quoteLow, holeCode);
            count = quoteCount;
            kinds[count] = tokenKinds.hole;
            starts[count] = quoteCount === 0 ? at : (ends[quoteCount - 1] as number);
            ends[count++] = at;
          }
        }
        high = mixed(high, byte);
        low = mixedToo(low, byte);
        kinds[count] = tokenKinds.mark;
        starts[count] = at;
        ends[count++] = ++at;
        if (isQuote) {
          if (quoteCount >= 0) quoteCount = -1;
          else {
            quoteCount = count;
            quoteHigh = high;
            quoteLow = low;
            isQuotePaired = isPaired;
            isQuoteField = at - 1 === start || isSeparator(bytes[at - 2] as number);
            words = 0;
            values = 0;
          }
        }
        isPaired = byte === equals && wordEnd === at - 1 && !telling.has(word);
        continue;
      }
      const from = at;
      const isName = isCapitalised(bytes, at, stop);
      let isValue = isPaired || (byte === slash && at + 1 < stop);
      let first = fnvBasis;
      let second = 0;
      let digits = false;
      for (; at < stop; at++) {
        const next = bytes[at] as number;
        const nextKind = byteKind[next] as number;
        if (nextKind === byteKinds.value) digits = true;
        else if (nextKind !== byteKinds.word) {
          // Within times and numbers a colon or comma is no mark.
          const goesOn =
            digits && (next === colon || next === comma) && at + 1 < stop && isDigit(bytes[at + 1] as number);
          // A name may be of several words.
          const isNameOn = isName && next === blankCode && isCapitalised(bytes, at + 1, stop);
          if (!goesOn && !isNameOn) break;
        }
        first = Math.imul(first ^ next, fnvPrime);
        second = (Math.imul(second, 31) + next) | 0;
      }
      isValue ||= digits || (at - from === 1 && byte === dash);
      words++;
      if (isValue) {
        values++;
        high = mixed(high, holeCode);
        low = mixedToo(low, holeCode);
        kinds[count] = tokenKinds.hole;
      } else {
        high = mixed(high, first);
        low = mixedToo(low, second);
        kinds[count] = tokenKinds.word;
        word = first;
        wordEnd = at;
      }
      starts[count] = from;
      ends[count++] = at;
      isPaired = false;
    }
    if (at < stop) {
      // What is longer than is looked at is a value as a whole.
      high = mixed(high, holeCode);
      low = mixedToo(low, holeCode);
      kinds[count] = tokenKinds.hole;
      starts[count] = at;
      ends[count++] = stop;
    }
    this.count = count;
    this.high = high;
    this.low = low;
  }

  /** The skeleton of the line that was scanned last; `bytes` are those that it stands in. */
  skeleton(bytes: Uint8Array): Skeleton {
    return Array.from({ length: this.count }, (_, i) => {
      const kind = this.kinds[i] as number;
      if (kind === tokenKinds.hole) return valueHole;
      return kind === tokenKinds.blank ? ' ' : this.text(bytes, i);
    });
  }

  /** The text of a token of the line that was scanned last. */
  text(bytes: Uint8Array, token: number): string {
    return decode(bytes, this.starts[token] as number, this.ends[token] as number);
  }
}

const newline = 10;

/** Where the first row of a line ends, without the blanks behind it. */
function lineEnd(bytes: Uint8Array, start: number, end: number): number {
  let from = start;
  while (from < end && byteKind[bytes[from] as number] === byteKinds.blank) from++;
  const last = Math.min(end, from + mostBytes);
  let stop = from;
  while (stop < last && bytes[stop] !== newline) stop++;
  if (stop === last && last < end && bytes[stop] !== newline) {
    // A word that is cut is another word.
    while (stop > from && byteKind[bytes[stop - 1] as number] !== byteKinds.blank) stop--;
    if (stop === from) stop = last;
  }
  while (stop > from && byteKind[bytes[stop - 1] as number] === byteKinds.blank) stop--;
  return stop;
}

/** Whether what stands there separates the fields of a record. */
function isSeparator(byte: number): boolean {
  return byte === comma || byte === semicolon;
}

/** Whether a field of a record ends there. */
function isFieldEnd(bytes: Uint8Array, at: number, stop: number): boolean {
  return at >= stop || isSeparator(bytes[at] as number);
}

/** Whether a capital and a small letter stand there (ASCII). */
function isCapitalised(bytes: Uint8Array, at: number, stop: number): boolean {
  if (at + 1 >= stop) return false;
  const [first, second] = [bytes[at] as number, bytes[at + 1] as number];
  return first >= 65 && first <= 90 && second >= 97 && second <= 122;
}

function isDigit(byte: number): boolean {
  return byte >= 48 && byte <= 57;
}

/** Mixes a number into a hash (steps of FNV-1a, then a shift so that high bits reach low ones). */
export function mixed(hash: number, value: number): number {
  const product = Math.imul(hash ^ value, fnvPrime);
  return product ^ (product >>> 15);
}

/** As {@link mixed}, with another factor (that of MurmurHash2, A. Appleby), for the other half of a hash. */
export function mixedToo(hash: number, value: number): number {
  const product = Math.imul(hash ^ Math.imul(value, otherPrime), otherPrime);
  return product ^ (product >>> 13);
}
