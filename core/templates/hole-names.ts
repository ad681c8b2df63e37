import type { LinePiece } from './line-pieces.ts';

/** A field name derived from the position of a piece. */
export interface PlacedName {
  readonly name: string;
  /** Whether it is a field even if it is the same on all lines. */
  readonly always: boolean;
}

/** Words that cannot name the value after them. */
const joiningWords = new Set(
  'a an the of to in on at by for from with and or is was are as it its be not no after before into over than per via only took taken last first about around up down'.split(
    ' ',
  ),
);
/** The dotted name of a logger. */
const dottedName = /^[A-Za-z_$][\w$]*(\.[A-Za-z_$][\w$]*)+$/;
const plainWord = /^[A-Za-z][A-Za-z_]{2,23}$/;

/** The field name that follows from the position of a piece in its line; undefined if none does. */
export function nameByPlace(pieces: readonly LinePiece[], index: number): PlacedName | undefined {
  for (const place of places) {
    const found = place(pieces, index);
    if (found) return found;
  }
  return undefined;
}

/** Names of fields that programs write before the message. */
export const programNames: ReadonlySet<string> = new Set(['program', 'pid', 'thread', 'uptime', 'logger', 'file']);

type Place = (pieces: readonly LinePiece[], index: number) => PlacedName | undefined;

const text = (pieces: readonly LinePiece[], index: number): string => pieces[index]?.text ?? '';
const isBlank = (pieces: readonly LinePiece[], index: number): boolean => /^ +$/.test(text(pieces, index));

/** `took=…`, `msg="…"`. */
const behindEquals: Place = (pieces, index) => {
  const equals = text(pieces, index - 1) === '"' ? index - 2 : index - 1;
  const word = text(pieces, equals - 1);
  return text(pieces, equals) === '=' && /^[A-Za-z_][\w.-]*$/.test(word) ? { name: word, always: true } : undefined;
};

/** `client: …, server: "…"`: behind a colon, where something separates it from what comes before. */
const behindColon: Place = (pieces, index) => {
  const quoted = text(pieces, index - 1) === '"' ? 1 : 0;
  const word = text(pieces, index - 3 - quoted);
  const isKey = isBlank(pieces, index - 1 - quoted) && text(pieces, index - 2 - quoted) === ':' && plainWord.test(word);
  const isListed = /^[,;]$/.test(text(pieces, index - 5 - quoted)) || /^[,;]$/.test(text(pieces, index + 1 + quoted));
  return isKey && isListed ? { name: word, always: true } : undefined;
};

/** `sshd[1234]:`, with the host between it and the time. */
const program: Place = (pieces, index) => {
  const isProcess = (at: number): boolean =>
    pieces[at]?.kind === 'word' &&
    text(pieces, at + 1) === '[' &&
    pieces[at + 2]?.type === 'int' &&
    text(pieces, at + 3) === ']';
  if (isProcess(index)) return { name: 'program', always: true };
  if (isProcess(index - 2) && pieces[index]?.type === 'int') return { name: 'pid', always: true };
  const isNamed = (at: number): boolean =>
    isProcess(at) || (pieces[at]?.kind === 'word' && text(pieces, at + 1) === ':');
  const isHost =
    pieces[index]?.kind === 'word' &&
    pieces[index - 2]?.name === 'at' &&
    isBlank(pieces, index - 1) &&
    isBlank(pieces, index + 1);
  if (isHost && isNamed(index + 2)) return { name: 'host', always: true };
  const isBehindHost =
    pieces[index - 4]?.name === 'at' && isBlank(pieces, index - 3) && isBlank(pieces, index - 1) && isNamed(index);
  return isBehindHost ? { name: 'program', always: true } : undefined;
};

/** `[   12.345678]` at the beginning, as kernels count; `[1234]` and `1234#5678:` behind a time or a level. */
const process: Place = (pieces, index) => {
  const { type } = pieces[index] ?? {};
  const isFirst = pieces.slice(0, index).every(({ kind }) => kind === 'separator');
  if (type === 'number' && isFirst && text(pieces, 0).startsWith('[')) return { name: 'uptime', always: true };
  if (type !== 'int') return undefined;
  const isInBrackets = text(pieces, index - 1) === '[' && text(pieces, index + 1) === ']';
  if (isInBrackets && pieces[index - 3]?.name === 'at') return { name: 'pid', always: true };
  if (text(pieces, index + 1) === '#' && pieces[index + 2]?.type === 'int') return { name: 'pid', always: true };
  if (text(pieces, index - 1) === '#' && pieces[index - 2]?.type === 'int') return { name: 'thread', always: true };
  if (text(pieces, index - 1) === '*') return { name: 'connection', always: true };
  const isPair =
    text(pieces, index + 1) === ':' && pieces[index + 2]?.type === 'int' && text(pieces, index - 1) === '[';
  if (isPair) return { name: 'pid', always: true };
  if (text(pieces, index - 1) === ':' && pieces[index - 2]?.type === 'int' && text(pieces, index - 3) === '[')
    return { name: 'thread', always: true };
  // A number between time and level is a thread or connection id.
  if (pieces[index - 2]?.name === 'at' && levelAt(pieces, index) > 0) return { name: 'thread', always: true };
  if (pieces[index - 2]?.name === 'level' && isBlank(pieces, index - 1)) return { name: 'pid', always: true };
  const isPort = text(pieces, index - 1) === ':' && /^([\w-]+\.)+[a-z]{2,}$/.test(text(pieces, index - 2));
  if (isPort || (text(pieces, index - 1) === ':' && pieces[index - 2]?.type === 'ip'))
    return { name: 'port', always: true };
  return undefined;
};

/** The distance to a level within the next four pieces; 0 if there is none. */
function levelAt(pieces: readonly LinePiece[], index: number): number {
  for (let on = 1; on <= 4; on++) if (pieces[index + on]?.name === 'level') return on;
  return 0;
}

/** Threads in brackets near the level, dotted logger names, and files with line numbers. */
const origin: Place = (pieces, index) => {
  const piece = pieces[index];
  if (piece?.kind === 'value' && piece.type === 'int') {
    const isLine = /^[:(]$/.test(text(pieces, index - 1)) && /^[\w/.-]+\.[a-z]{1,4}$/.test(text(pieces, index - 2));
    return isLine ? { name: 'line', always: true } : undefined;
  }
  if (piece?.kind !== 'word') return undefined;
  if (text(pieces, index + 1) === ':' && pieces[index + 2]?.name === 'level') return { name: 'module', always: true };
  const opens = text(pieces, index - 1) === '[' && text(pieces, index + 1) === ']';
  const isNearLevel = [-4, -3, -2, 3, 2, 4].some((by) => pieces[index + by]?.name === 'level');
  const hasLevel = pieces.slice(Math.max(0, index - 12), index + 5).some(({ name }) => name === 'level');
  if (opens && (isNearLevel || (hasLevel && dottedName.test(text(pieces, index + 3)))))
    return { name: 'thread', always: true };
  if (
    /^[\w/.-]+\.[a-z]{1,4}$/.test(piece.text) &&
    /^[:(]$/.test(text(pieces, index + 1)) &&
    pieces[index + 2]?.type === 'int'
  )
    return { name: 'file', always: true };
  if (hasLevel && dottedName.test(piece.text)) return { name: 'logger', always: true };
  const before = text(pieces, index - 2);
  const after = text(pieces, index + 1);
  const isBetween =
    (pieces[index - 2]?.name === 'level' && text(pieces, index - 1) === ':' && after === ':') ||
    (isBetweenDashes(pieces, index) && (before === '-' || pieces[index - 4]?.name === 'at'));
  return hasLevel && isBetween ? { name: 'logger', always: true } : undefined;
};

/** ` - name - `. */
function isBetweenDashes(pieces: readonly LinePiece[], index: number): boolean {
  return (
    isBlank(pieces, index - 1) &&
    text(pieces, index - 2) === '-' &&
    isBlank(pieces, index + 1) &&
    text(pieces, index + 2) === '-'
  );
}

/** After the request of an access line: status, bytes, and in quotes referrer and user agent. */
const access: Place = (pieces, index) => {
  const request = pieces.findIndex(({ name }) => name === 'version');
  if (request < 0) return undefined;
  if (index === request) return { name: 'version', always: true };
  if (index < request) {
    const isUser =
      pieces[index]?.kind === 'word' &&
      text(pieces, index + 2) === '[' &&
      pieces[index + 3]?.name === 'at' &&
      pieces.slice(0, index).some(({ name, kind }) => name === 'client' || kind === 'word');
    return isUser ? { name: 'user', always: false } : undefined;
  }
  const behind = pieces.slice(request + 1, index).filter(({ kind }) => kind !== 'separator');
  const isQuoted = text(pieces, index - 1) === '"';
  if (!isQuoted && behind.length === 0) return { name: 'status', always: true };
  if (!isQuoted && behind.length === 1) return { name: 'bytes', always: true };
  if (isQuoted && behind.length === 2) return { name: 'referrer', always: true };
  if (isQuoted && behind.length === 3) return { name: 'agent', always: true };
  return undefined;
};

/** `port 2222` and `3 cabins`: a number is named after the word before it, or a plural after it. */
const besideWord: Place = (pieces, index) => {
  const { type, kind } = pieces[index] ?? {};
  if (kind !== 'value' || (type !== 'int' && type !== 'number')) return undefined;
  const before = text(pieces, index - 2);
  if (
    isBlank(pieces, index - 1) &&
    pieces[index - 2]?.kind === 'word' &&
    plainWord.test(before) &&
    !joiningWords.has(before.toLowerCase())
  )
    return { name: before.toLowerCase(), always: true };
  const after = text(pieces, index + 2);
  return isBlank(pieces, index + 1) && /^[a-z]{2,20}s$/.test(after) && !joiningWords.has(after)
    ? { name: after, always: true }
    : undefined;
};

const places: readonly Place[] = [behindEquals, access, behindColon, program, origin, process, besideWord];

/** The field name that follows from the form of the values; `word` if none does. */
export function nameByLook(type: string, values: readonly string[]): string {
  const all = (shape: RegExp): boolean => values.length > 0 && values.every((value) => shape.test(value));
  if (['iso', 'clf', 'syslog', 'time'].includes(type)) return 'at';
  if (type === 'ip') return 'client';
  if (type === 'duration') return 'took';
  if (type === 'size') return 'size';
  if (type === 'int' && all(/^[1-5]\d\d$/)) return 'status';
  if (type === 'int' || type === 'number') return 'number';
  if (all(/^(GET|POST|PUT|DELETE|HEAD|PATCH|OPTIONS)$/)) return 'method';
  if (all(/^(trace|debug|info|notice|warn|warning|error|fatal|critical|[TDIWEF])$/i)) return 'level';
  if (all(/^[A-Z]{1,5}-?\d{3,}$/)) return 'code';
  if (all(/^\//)) return 'path';
  if (all(/^https?:\/\//)) return 'url';
  if (all(/^([\w-]+\.)+(?!(?:js|ts|go|cc|c|py|rb|rs|java|log|css|html|json)$)[a-z]{2,10}$/)) return 'host';
  if (all(/^[\w.+-]+@[\w-]+(\.[\w-]+)+$/)) return 'email';
  return 'word';
}
