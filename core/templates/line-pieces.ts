import { readAddress } from '../events/address.ts';
import { decode, encode } from '../events/text-table.ts';
import { holeTypes } from './hole-types.ts';

/** A token of a log line. */
export interface LinePiece {
  /** A separator; a word, which may be constant; or a value, which is recognised by its form and never constant. */
  readonly kind: 'separator' | 'word' | 'value';
  readonly text: string;
  /** The hole type of a value; `text` for words and separators. */
  readonly type: string;
  /** The field name suggested by the form of a value. */
  readonly name?: string;
}

/** `within`: split the content of brackets; `whole`: take it as one value. */
export type Closeness = 'within' | 'whole';

const times = ['iso', 'clf', 'syslog', 'time'] as const;
const separator = /[\s,;|="[\](){}<>]/;
export const levelWord =
  /^(?:trace|debug\d?|info(?:rmation)?|note|notice|log|warn(?:ing)?|err(?:or)?|crit(?:ical)?|alert|emerg(?:ency)?|fatal|panic|severe|fine(?:r|st)?)$/i;
/** One-letter levels; they count only directly after the time. */
const levelLetter = /^[TDIWEFC]$/;
const requestLine = /(GET|HEAD|POST|PUT|DELETE|PATCH|OPTIONS|CONNECT|TRACE) (\S+) HTTP\/(\d(?:\.\d)?)(?=")/y;

/** A kind of value that is recognised by its form. */
interface Look {
  readonly shape: RegExp;
  readonly type: string;
  readonly name?: string;
  /** A further check of the matched text. */
  readonly is?: (text: string) => boolean;
}

const looks: readonly Look[] = [
  { shape: /[a-z][a-z\d+.-]*:\/\/[^\s"'<>)\]]+/y, type: 'text', name: 'url' },
  { shape: /[\da-f]{8}-[\da-f]{4}-[\da-f]{4}-[\da-f]{4}-[\da-f]{12}(?![\w-])/iy, type: 'text', name: 'id' },
  { shape: /[\da-f]{2}(?::[\da-f]{2}){5}(?![\w:])/iy, type: 'text', name: 'mac' },
  {
    shape: /\d{1,3}(?:\.\d{1,3}){3}(?![\w.]*\w)/y,
    type: 'ip',
    name: 'client',
    is: (text) => readAddress(text) !== undefined,
  },
  { shape: /[\da-f]*:[\da-f:]+(?:\.\d{1,3}){0,3}(?!\w)/iy, type: 'ip', name: 'client', is: isLongAddress },
  { shape: /\d{1,2}:\d\d:\d\d(?:[.,]\d+)?(?![\w:])/y, type: 'text', name: 'clock' },
  { shape: /[+-]?\d+(?:\.\d+)?(?:ns|us|µs|ms|s|min|h)(?!\w)/y, type: 'duration', name: 'took' },
  { shape: /\d+(?:\.\d+)?(?:B|kB|KB|MB|GB|TB|KiB|MiB|GiB)(?!\w)/y, type: 'size', name: 'size' },
  { shape: /-?(?:0|[1-9]\d*)(?=\.?(?:$|[\s,;:|=()[\]{}<>"'%#/]))/y, type: 'int' },
  { shape: /-?\d+\.\d+(?=\.?(?:$|[\s,;:|=()[\]{}<>"'%/]))/y, type: 'number' },
];

/** At least two colons, so that `name:12` is not an IPv6 address. */
function isLongAddress(text: string): boolean {
  return (text.match(/:/g)?.length ?? 0) >= 2 && readAddress(text) !== undefined;
}

/** Splits a line into pieces; joined together they are the line. */
export function linePieces(line: string, closeness: Closeness): readonly LinePiece[] {
  const bytes = encode(line);
  const isPlain = bytes.length === line.length;
  const pieces: LinePiece[] = [];
  let at = 0;
  const add = (piece: LinePiece): void => {
    pieces.push(piece);
    at += piece.text.length;
  };
  while (at < line.length) {
    const isStart = at === 0 || pieces[pieces.length - 1]?.kind === 'separator';
    const time = isStart ? timeAt(isPlain ? bytes : encode(line.slice(at)), isPlain ? at : 0) : undefined;
    if (time) {
      add({ kind: 'value', name: 'at', ...time });
      continue;
    }
    const first = line.charAt(at);
    if (first === '"' && isStart && requestAt(line, at, add)) continue;
    const whole = closeness === 'whole' || first === '"' ? enclosed(line, at) : undefined;
    if (whole !== undefined && isStart) {
      add({ kind: 'separator', text: first, type: 'text' });
      if (whole !== '') add({ kind: 'word', text: whole, type: 'text' });
      add({ kind: 'separator', text: line.charAt(at), type: 'text' });
      continue;
    }
    if (separator.test(first)) {
      add({ kind: 'separator', text: /^(?: +|\[ *|.)/s.exec(line.slice(at, at + 200))?.[0] ?? first, type: 'text' });
      continue;
    }
    const value = isStart ? valueAt(line, at) : undefined;
    if (value) add(value);
    else for (const word of wordsAt(line, at)) add(word);
  }
  return withOneLevel(pieces);
}

/** Keeps one level: the first that is marked as one or follows the time. Other level words are part of the message. */
function withOneLevel(pieces: readonly LinePiece[]): readonly LinePiece[] {
  const level = pieces.findIndex(({ name, text }, i) => {
    if (name !== 'level') return false;
    const before = pieces[i - 1]?.text ?? '';
    const after = pieces[i + 1]?.text ?? '';
    const isBehindTime = pieces[i - 2]?.name === 'at' && before.trim() === '';
    if (levelLetter.test(text)) return isBehindTime;
    const isMarked = /[[(<=:]$/.test(before) || /^[\])>:]/.test(after) || text === text.toUpperCase();
    return isMarked || isBehindTime;
  });
  return pieces.map((piece, i) =>
    piece.name === 'level' && i !== level ? { kind: 'word', text: piece.text, type: 'text' } : piece,
  );
}

/** The longest time at an offset, and the first hole type that reads it. */
function timeAt(bytes: Uint8Array, at: number): { readonly text: string; readonly type: string } | undefined {
  let found = { end: at, type: '' };
  for (const name of times) {
    const type = holeTypes.get(name);
    const end = type?.extent?.(bytes, at, bytes.length) ?? -1;
    if (end <= found.end || isWordByte(bytes[end])) continue;
    const value = type?.read?.(bytes, at, end, Date.now()) ?? Number.NaN;
    if (value === value) found = { end, type: name };
  }
  return found.end > at ? { text: decode(bytes, at, found.end), type: found.type } : undefined;
}

function isWordByte(byte: number | undefined): boolean {
  return byte !== undefined && /\w/.test(String.fromCharCode(byte));
}

/** Splits a quoted HTTP request line; false if there is none. */
function requestAt(line: string, at: number, add: (piece: LinePiece) => void): boolean {
  requestLine.lastIndex = at + 1;
  const found = requestLine.exec(line);
  if (!found) return false;
  const [, method = '', path = '', version = ''] = found;
  add({ kind: 'separator', text: '"', type: 'text' });
  add({ kind: 'value', text: method, type: 'text', name: 'method' });
  add({ kind: 'separator', text: ' ', type: 'text' });
  add({ kind: 'value', text: path, type: 'text', name: 'path' });
  add({ kind: 'separator', text: ' HTTP/', type: 'text' });
  add({ kind: 'value', text: version, type: 'text', name: 'version' });
  return true;
}

/** The text inside quotes or brackets that open here; undefined if there are none or they are nested. */
function enclosed(line: string, at: number): string | undefined {
  const close = ({ '"': '"', '[': ']', '(': ')' } as Readonly<Record<string, string>>)[line.charAt(at)];
  const end = close === undefined ? -1 : line.indexOf(close, at + 1);
  if (end < 0) return undefined;
  const text = line.slice(at + 1, end);
  if (close === '"') return text;
  // Single words, numbers and times in brackets are recognised by themselves.
  return /[[\]()"]/.test(text) || !/\s/.test(text) || timeAt(encode(text), 0) ? undefined : text;
}

function valueAt(line: string, at: number): LinePiece | undefined {
  for (const { shape, type, name, is } of looks) {
    shape.lastIndex = at;
    const text = shape.exec(line)?.[0];
    if (text === undefined || text === '' || is?.(text) === false) continue;
    return { kind: 'value', text, type, ...(name && { name }) };
  }
  return undefined;
}

/** Splits a word before a final colon, and at every `:`, `#` and `*` if a part is a level or a number. */
function wordsAt(line: string, at: number): readonly LinePiece[] {
  let end = at;
  while (end < line.length && !separator.test(line.charAt(end))) end++;
  const text = line.slice(at, Math.max(end, at + 1));
  const mark = /^[:#*]+/.exec(text)?.[0];
  if (mark !== undefined) return [{ kind: 'separator', text: mark, type: 'text' }];
  const isApart = (part: string): boolean => /^\d+$/.test(part) || levelWord.test(part);
  const parts = text.split(/([:#*]+)/).filter((part) => part !== '');
  const cut =
    parts.some(isApart) && !/^[a-z]+:\/\//i.test(text) ? parts : text.split(/(:+$)/).filter((part) => part !== '');
  return cut.map((part): LinePiece => {
    if (/^[:#*]+$/.test(part)) return { kind: 'separator', text: part, type: 'text' };
    if (levelWord.test(part) || levelLetter.test(part))
      return { kind: 'value', text: part, type: 'text', name: 'level' };
    if (/^(0|[1-9]\d*)$/.test(part)) return { kind: 'value', text: part, type: 'int' };
    return { kind: 'word', text: part, type: 'text' };
  });
}
