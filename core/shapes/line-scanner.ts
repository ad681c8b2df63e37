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

/** What is read behind the last byte: a blank. */
const lineEnd = 0;
const lastCapital = 90;
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
/** What is mixed in for the rest of a line that is longer than is looked at. */
const longCode = 2;
/** By which marks and blanks that follow each other are told apart. */
const betweenFactor = 0x9e3779b1;

const seed = 0x2c1b3c6d;
const otherPrime = 0x5bd1e995;

/** The hashes of names whose values say what happened, each at the place that its lowest bits give it. */
const telling = new Int32Array(256);
for (const name of tellingNames) {
  const bytes = encode(name);
  const hash = hashBytes(bytes, 0, bytes.length);
  let place = hash & 255;
  while (telling[place] !== 0) place = (place + 1) & 255;
  telling[place] = hash;
}

function isTelling(word: number): boolean {
  for (let place = word & 255; telling[place] !== 0; place = (place + 1) & 255)
    if (telling[place] === word) return true;
  return false;
}

/**
 * Takes lines apart into words, values, marks and blanks, each byte looked at once. Of a line in several rows the first row
 * counts. A word is a value where it has a digit or `@` in it, begins with a slash, or is a dash alone; in `key=value` the
 * value, unless the key is one of those that say what happened; of quoted text, what has five words or three values,
 * nothing but values, or is a field between commas. Words with capitals that follow each other are one name. So much is known
 * by the line alone; which words vary is learnt from many (`shape-families.ts`).
 */
export class LineScanner {
  /** Tokens of the line that was scanned last. */
  count = 0;
  /** Its hash: two halves of 32 bits. The same for lines with the same skeleton. */
  high = 0;
  low = 0;
  private readonly kinds = new Uint8Array(mostTokens + 2);
  /** Where each token begins, and behind the last one where the line ends: a token ends where the next begins. */
  private readonly starts = new Int32Array(mostTokens + 3);

  /** Scans the line that is in `bytes[start..end)`. */
  scan(bytes: Uint8Array, start: number, end: number): void {
    const { kinds, starts } = this;
    const table = byteKind;
    let at = start;
    while (at < end && (table[bytes[at] as number] as number) >= byteKinds.blank) at++;
    const first = at;
    const stop = end - at > mostBytes ? cutEnd(bytes, at, at + mostBytes) : end;
    let high = fnvBasis;
    let low = seed;
    /** Marks and blanks since the last word or value; they are mixed in with the next one. */
    let between = 0;
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
    let quoteBetween = 0;
    let isQuotePaired = false;
    let isQuoteField = false;
    let words = 0;
    let values = 0;
    while (at < stop && count < mostTokens) {
      const byte = bytes[at] as number;
      const kind = table[byte] as number;
      starts[count] = at;
      if (kind >= byteKinds.blank) {
        const isAlone = byte === blankCode && ++at < stop && (table[bytes[at] as number] as number) < byteKinds.blank;
        if (!isAlone) {
          const after = behindBlanks(bytes, starts[count] as number, stop);
          // Of several rows the first one counts, and blanks at its end are no part of it.
          at = after < 0 ? (starts[count] as number) : after;
          if (after < 0) break;
        }
        between = (Math.imul(between, betweenFactor) + blankCode) | 0;
        kinds[count++] = tokenKinds.blank;
        isPaired = false;
        continue;
      }
      if (kind === byteKinds.mark) {
        at++;
        const isQuote = byte === quote && bytes[at - 2] !== backslash;
        if (isQuote && quoteCount >= 0) {
          const isField = isQuoteField && isFieldEnd(bytes, at, stop);
          if (isField || isQuotePaired || values === words || words >= quotedWords || values >= quotedValues) {
            high = mixed(quoteHigh, quoteBetween ^ holeCode);
            low = mixedToo(quoteLow, quoteBetween + holeCode);
            between = 0;
            count = quoteCount;
            kinds[count++] = tokenKinds.hole;
            starts[count] = at - 1;
          }
        }
        between = (Math.imul(between, betweenFactor) + byte) | 0;
        kinds[count++] = tokenKinds.mark;
        if (isQuote) {
          if (quoteCount >= 0) quoteCount = -1;
          else {
            quoteCount = count;
            quoteHigh = high;
            quoteLow = low;
            quoteBetween = between;
            isQuotePaired = isPaired;
            isQuoteField = at - 1 === first || isSeparator(bytes[at - 2] as number);
            words = 0;
            values = 0;
          }
        }
        isPaired = byte === equals && wordEnd === at - 1 && !isTelling(word);
        continue;
      }
      const from = at;
      let hash = fnvBasis;
      let next = byte;
      let nextKind = kind;
      let isValue = isPaired || (byte === slash && at + 1 < stop);
      for (;;) {
        let met = byteKinds.word as number;
        do {
          met |= nextKind;
          hash = Math.imul(hash ^ next, fnvPrime);
          next = ++at < stop ? (bytes[at] as number) : lineEnd;
          nextKind = table[next] as number;
        } while (nextKind <= byteKinds.value);
        isValue ||= met !== byteKinds.word;
        if (isValue) {
          // Within times and numbers a colon or comma is no mark.
          const goesOn =
            next === colon ? areDigits(bytes, at + 1, stop, 1) : next === comma && isThousands(bytes, at + 1, stop);
          if (!goesOn) break;
          if (isPaired && !hasDigit(bytes, from, at)) break;
          next = bytes[++at] as number;
          nextKind = byteKinds.value;
          continue;
        }
        // A name may be of several words.
        if (byte > lastCapital || next !== blankCode) break;
        if (!isCapitalised(bytes, at + 1, stop) || !isCapitalised(bytes, from, stop)) break;
        hash = Math.imul(hash ^ next, fnvPrime);
        next = bytes[++at] as number;
        nextKind = byteKinds.word;
      }
      isValue ||= at - from === 1 && byte === dash;
      words++;
      isPaired = false;
      if (isValue) {
        values++;
        high = mixed(high, between ^ holeCode);
        low = mixedToo(low, between + holeCode);
        kinds[count++] = tokenKinds.hole;
      } else {
        high = mixed(high, between ^ hash);
        // The hash of a word has 32 bits; its length and its ends tell apart what these do not.
        low = mixedToo(low, between + (((at - from) << 16) | (byte << 8) | (bytes[at - 1] as number)));
        kinds[count++] = tokenKinds.word;
        word = hash;
        wordEnd = at;
      }
      between = 0;
      // Mostly a single blank follows.
      if (next === blankCode && at + 1 < stop && (table[bytes[at + 1] as number] as number) < byteKinds.blank) {
        between = blankCode;
        starts[count] = at++;
        kinds[count++] = tokenKinds.blank;
      }
    }
    if (count >= mostTokens && at < stop) {
      // What is longer than is looked at is a value as a whole.
      between = (between + longCode) | 0;
      starts[count] = at;
      kinds[count++] = tokenKinds.hole;
      at = stop;
    }
    starts[count] = at;
    this.count = count;
    this.high = mixed(high, between);
    this.low = mixedToo(low, between);
  }

  /** The skeleton of the line that was scanned last; `bytes` are those that it is in. */
  skeleton(bytes: Uint8Array): Skeleton {
    return Array.from({ length: this.count }, (_, i) => {
      const kind = this.kinds[i] as number;
      if (kind === tokenKinds.hole) return valueHole;
      return kind === tokenKinds.blank ? ' ' : this.text(bytes, i);
    });
  }

  /** The text of a token of the line that was scanned last. */
  text(bytes: Uint8Array, token: number): string {
    return decode(bytes, this.starts[token] as number, this.starts[token + 1] as number);
  }
}

const newline = 10;

/** Where a line that is too long is cut: behind a whole word, where there is one, as a word that is cut is another word. */
function cutEnd(bytes: Uint8Array, start: number, last: number): number {
  let stop = last;
  while (stop > start && (byteKind[bytes[stop - 1] as number] as number) < byteKinds.blank) stop--;
  return stop === start ? last : stop;
}

/** Where blanks end that begin at a place; −1 where the row ends with them. */
function behindBlanks(bytes: Uint8Array, start: number, stop: number): number {
  for (let at = start; at < stop; at++) {
    const byte = bytes[at] as number;
    if (byte === newline) return -1;
    if ((byteKind[byte] as number) < byteKinds.blank) return at;
  }
  return -1;
}

function hasDigit(bytes: Uint8Array, start: number, end: number): boolean {
  for (let at = start; at < end; at++) if (byteKind[bytes[at] as number] === byteKinds.value) return true;
  return false;
}

/** Whether what is there separates the fields of a record. */
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
  const first = bytes[at] as number;
  const second = bytes[at + 1] as number;
  return first >= 65 && first <= 90 && second >= 97 && second <= 122;
}

/** Whether `count` digits stand there. */
function areDigits(bytes: Uint8Array, at: number, stop: number, count: number): boolean {
  if (at + count > stop) return false;
  for (let i = at; i < at + count; i++) if ((bytes[i] as number) < 48 || (bytes[i] as number) > 57) return false;
  return true;
}

/** Whether the digits of a number go on there behind a comma: three of them, and no fourth. */
function isThousands(bytes: Uint8Array, at: number, stop: number): boolean {
  return areDigits(bytes, at, stop, 3) && !areDigits(bytes, at + 3, stop, 1);
}

/** Takes a number into a hash: a step of FNV-1a and a shift, by which high bits reach low ones. */
export function mixed(hash: number, value: number): number {
  const product = Math.imul(hash ^ value, fnvPrime);
  return product ^ (product >>> 15);
}

/** As {@link mixed}, with another factor (that of MurmurHash2, A. Appleby), for the other half of a hash. */
export function mixedToo(hash: number, value: number): number {
  const product = Math.imul(hash ^ Math.imul(value, otherPrime), otherPrime);
  return product ^ (product >>> 13);
}
