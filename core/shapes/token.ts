/**
 * What stands for a value in a skeleton: `valueHole` where the text itself says that it is one (digits, paths, quoted values),
 * `wordHole` where many different words were met. Neither can stand in a line, whose control characters read as blanks.
 */
export const valueHole = '\u0001';
export const wordHole = '\u0002';

/** How the skeleton of an event without a body begins: the names of its fields follow. */
export const fieldsMark = '\u0003';

/**
 * The constant words, marks and blanks of a line in order, with a hole for each value. Marks are single characters; a run of
 * blanks is one blank.
 */
export type Skeleton = readonly string[];

/** Whether a token is a hole. */
export function isHole(token: string): boolean {
  return token === valueHole || token === wordHole;
}

/** What a byte of a line is to the scanner. */
export const byteKinds = { word: 0, value: 1, mark: 2, blank: 3 } as const;

const marks = '=:,;()[]{}"\'|<>`';

/** By byte, what it is ({@link byteKinds}): digits and `@` make a word a value. */
export const byteKind: Uint8Array = Uint8Array.from({ length: 256 }, (_, byte) => {
  const character = String.fromCharCode(byte);
  if (byte <= 32 || byte === 127) return byteKinds.blank;
  if ((byte >= 48 && byte <= 57) || character === '@') return byteKinds.value;
  return marks.includes(character) ? byteKinds.mark : byteKinds.word;
});

/** Whether a token is a word: no hole, no mark, no blank. */
export function isWord(token: string): boolean {
  if (token === '' || token === fieldsMark || isHole(token)) return false;
  const kind = byteKind[token.charCodeAt(0)] ?? byteKinds.word;
  return kind === byteKinds.word || kind === byteKinds.value;
}

/** Names in `name=value` whose values say what happened, and are words rather than values, in small letters. */
export const tellingNames: readonly string[] = [
  ...['level', 'lvl', 'severity', 'loglevel', 'log.level', 'priority'],
  ...['msg', 'message', 'event', 'evt', 'action', 'operation', 'op', 'type', 'kind', 'reason', 'error', 'err'],
  ...['logger', 'component', 'module', 'name'],
];

/** Names of fields that tell events without a line apart by their values, in small letters. */
export const tellingFields: readonly string[] = ['event', 'evt', 'action', 'operation', 'op', 'type', 'kind'];
