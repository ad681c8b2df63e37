import { array, object, string } from 'yup';
import { decode, encode } from '../events/text-table.ts';
import { type FindValues, isWordByte } from './detector.ts';
import { detectors } from './index.ts';
import { rewriteJson } from './json-text.ts';
import type { HashText } from './keyed-hash.ts';

/** What stands in the place of a masked value. */
export const replacements = ['hash', 'last-four', 'remove'] as const;

export type Replacement = (typeof replacements)[number];

/** What to mask: a detector by its id, or what follows the text `after`. */
export interface MaskRule {
  readonly find?: string | undefined;
  readonly after?: string | undefined;
  readonly with: Replacement;
}

/** The shape of mask rules at the edges: a source's settings, a plan. */
export const maskRules = array(
  object({
    find: string().oneOf([...detectors.keys()]),
    after: string().min(2).max(100),
    with: string().oneOf(replacements).required(),
  })
    .noUnknown()
    .test('find or after', 'a mask has either find or after', (rule) => Boolean(rule?.find) !== Boolean(rule?.after)),
).max(20);

/** A mask in words, for lists and changes. */
export function describeMask(rule: MaskRule): string {
  const what = rule.after
    ? `what follows ${rule.after}`
    : (detectors.get(rule.find ?? '')?.title.toLowerCase() ?? rule.find);
  const how = rule.with === 'hash' ? 'by a hash' : rule.with === 'last-four' ? 'but for the last four' : 'entirely';
  return `mask ${what} ${how}`;
}

/** What is written instead of the value `bytes[start..end)`. */
export function replacementOf(
  kind: Replacement,
  bytes: Uint8Array,
  start: number,
  end: number,
  hash: HashText,
): string {
  if (kind === 'hash') return `#${hash(bytes, start, end)}`;
  if (kind === 'remove' || end - start <= 8) return '•••';
  return `•••${decode(bytes, end - 4, end)}`;
}

function findAfter(text: string): FindValues {
  const lead = encode(text);
  const [first = 0] = lead;
  return (bytes, start, end, visit) => {
    for (let at = bytes.indexOf(first, start); at >= 0 && at + lead.length < end; at = bytes.indexOf(first, at + 1)) {
      let i = 1;
      while (i < lead.length && bytes[at + i] === lead[i]) i++;
      if (i < lead.length) continue;
      const from = at + lead.length;
      let to = from;
      while (to < end && !endsValue(bytes[to] as number, bytes[to - 1] as number)) to++;
      if (to > from) visit(from, to);
      at = Math.max(at, to - 1);
    }
  };
}

/** Blanks, quotes that are not escaped, commas, semicolons, ampersands and closing brackets end a value. */
function endsValue(byte: number, before: number): boolean {
  if (before === 92) return false;
  return (
    byte <= 32 || byte === 34 || byte === 39 || byte === 44 || byte === 59 || byte === 38 || byte === 41 || byte === 93 || byte === 125
  ); // biome-ignore format: one row of characters
}

/** Writes a text anew with its values masked; undefined when nothing was found, and the text can stay. */
export type MaskText = (bytes: Uint8Array, start: number, end: number) => Uint8Array | undefined;

/** Masks compiled for texts, and for the values of fields, whose names may say what they are. */
export interface Masks {
  readonly text: MaskText;
  /** What to do with the values of a field of that name. */
  readonly ofField: (name: string) => MaskText;
}

/**
 * Compiles mask rules. Values that a rule before has masked are not found again. Of a text that is JSON the values are
 * looked through as they read, so that no escape hides one.
 */
export function compileMasks(rules: readonly MaskRule[], hash: HashText): Masks {
  const passes = rules.flatMap((rule) => {
    const detector = detectors.get(rule.find ?? '');
    const find = rule.after ? findAfter(rule.after) : detector?.find;
    return find ? [{ find, kind: rule.with, names: rule.after ? undefined : detector?.names }] : [];
  });
  const plainly: MaskText = (bytes, start, end) => {
    let masked: Uint8Array | undefined;
    for (const { find, kind } of passes) {
      const text = masked ?? bytes;
      masked = masked
        ? (onePass(text, 0, text.length, find, kind, hash) ?? masked)
        : onePass(text, start, end, find, kind, hash);
    }
    return masked;
  };
  const wholly = (name: string): Replacement | undefined => {
    const last = name.slice(name.lastIndexOf('.') + 1).toLowerCase();
    return passes.find(({ names }) => names?.has(last))?.kind;
  };
  const within = (text: string, name: string): string | undefined => {
    const bytes = encode(text);
    const kind = wholly(name);
    if (kind) return isMasked(text) ? undefined : replacementOf(kind, bytes, 0, bytes.length, hash);
    const masked = plainly(bytes, 0, bytes.length);
    return masked && decode(masked, 0, masked.length);
  };
  const text: MaskText = (bytes, start, end) => {
    const rewritten = rewriteJson(bytes, start, end, within);
    if (!rewritten) return plainly(bytes, start, end);
    // What is behind a name, such as `"token":"`, is found in the text as it is written.
    return plainly(rewritten, 0, rewritten.length) ?? rewritten;
  };
  return {
    text,
    ofField: (name) => {
      const kind = wholly(name);
      if (!kind) return text;
      return (bytes, start, end) =>
        isMasked(decode(bytes, start, end)) ? undefined : encode(replacementOf(kind, bytes, start, end, hash));
    },
  };
}

/** Whether a value has been masked before: what is masked again would be another value. */
function isMasked(text: string): boolean {
  return /^(•••.{0,4}|#[0-9a-f]{16})$/su.test(text);
}

function onePass(
  bytes: Uint8Array,
  start: number,
  end: number,
  find: FindValues,
  kind: Replacement,
  hash: HashText,
): Uint8Array | undefined {
  const pieces: Uint8Array[] = [];
  let at = start;
  find(bytes, start, end, (from, to) => {
    const replacement = encode(replacementOf(kind, bytes, from, to, hash));
    // A number of JSON becomes a text, or the record would no longer be JSON.
    const quoted = isBareJsonValue(bytes, from, to, start, end);
    pieces.push(
      bytes.subarray(at, from),
      quoted ? encode(`"${decode(replacement, 0, replacement.length)}"`) : replacement,
    );
    at = to;
  });
  if (pieces.length === 0) return undefined;
  pieces.push(bytes.subarray(at, end));
  return joined(pieces);
}

/** Whether a value is in JSON without quotes: behind `"…":` or in a list, before `,`, `]` or `}`. */
function isBareJsonValue(bytes: Uint8Array, from: number, to: number, start: number, end: number): boolean {
  let before = from - 1;
  while (before > start && bytes[before] === 32) before--;
  let after = to;
  while (after < end && (bytes[after] as number) <= 32) after++;
  const closes = bytes[after] === 44 || bytes[after] === 125 || bytes[after] === 93;
  if (before <= start || after >= end || !closes || isWordByte(bytes[from - 1])) return false;
  return bytes[before] === 58 && bytes[before - 1] === 34;
}

function joined(pieces: readonly Uint8Array[]): Uint8Array {
  let size = 0;
  for (const piece of pieces) size += piece.length;
  const whole = new Uint8Array(size);
  let at = 0;
  for (const piece of pieces) {
    whole.set(piece, at);
    at += piece.length;
  }
  return whole;
}
