import { fitsType, guessType } from './guess-type.ts';
import { nameByLook, nameByPlace, programNames } from './hole-names.ts';
import { type Closeness, type LinePiece, linePieces } from './line-pieces.ts';
import type { DraftPiece } from './write.ts';

/** A template mined from lines of one kind. */
export interface Mined {
  readonly pieces: readonly DraftPiece[];
  /** Whether it ends in a message that takes the rest of the line. */
  readonly endsInRest: boolean;
}

/** The least share of lines that makes a kind a template, and the most templates. */
const leastKind = 0.05;
const mostKinds = 4;
/** The share of lines that must agree on a piece of the head. */
const headShare = 0.9;
/** Only so many characters of a line are split into pieces. */
const mostLength = 2_000;
/** More unnamed words that vary than this mean free text. */
const mostNameless = 3;

/**
 * What templates lines would have that nobody has marked: one for each kind of line, kinds being told apart by what separates
 * their pieces; and one that takes the head all lines share, with the rest as the message.
 */
export function mineTemplates(lines: readonly string[], usedNames: ReadonlySet<string> = new Set()): readonly Mined[] {
  return (['within', 'whole'] as const).flatMap((closeness) => mineClosely(lines, closeness, usedNames));
}

function mineClosely(lines: readonly string[], closeness: Closeness, usedNames: ReadonlySet<string>): readonly Mined[] {
  const all = lines.map((line) => linePieces(line.slice(0, mostLength), closeness));
  const kinds = new Map<string, (readonly LinePiece[])[]>();
  for (const pieces of all) {
    const skeleton = pieces.map(signOf).join('\u0000');
    const kind = kinds.get(skeleton);
    if (kind) kind.push(pieces);
    else kinds.set(skeleton, [pieces]);
  }
  const whole = [...kinds.values()]
    .filter((kind) => kind.length >= Math.max(2, lines.length * leastKind))
    .sort((a, b) => b.length - a.length)
    .slice(0, mostKinds)
    .flatMap((kind): Mined[] => {
      const pieces = templateOf(kind, usedNames);
      const nameless = pieces.filter((piece) => piece.kind === 'hole' && /^word\d*$/.test(piece.name)).length;
      return nameless > mostNameless || pieces.every(({ kind }) => kind !== 'hole')
        ? []
        : [{ pieces, endsInRest: false }];
    });
  return [...whole, headOf(all, usedNames) ?? [], trunkOf(all, usedNames) ?? []].flat();
}

/** The signature of a piece; lines with equal signatures are of one kind. Runs of blanks count as one. */
function signOf(piece: LinePiece): string {
  if (piece.kind === 'separator') return `s${piece.text.replace(/ +/, ' ')}`;
  return piece.name === 'at' ? `t${piece.type}` : piece.name === 'level' ? 'l' : 'w';
}

function isEmptyValue(text: string): boolean {
  return text === '-';
}

/** The least number of blanks in the constant text of a sentence. */
const leastBlanks = 2;

/**
 * A sentence that lines share except for its end, such as `sold a ticket to {message:rest}`. Considers only lines that begin
 * with the most frequent first word.
 */
function trunkOf(all: readonly (readonly LinePiece[])[], usedNames: ReadonlySet<string>): Mined | undefined {
  const begins = new Map<string, (readonly LinePiece[])[]>();
  for (const pieces of all) {
    const [first] = pieces;
    if (first?.kind !== 'word') continue;
    const list = begins.get(first.text);
    if (list) list.push(pieces);
    else begins.set(first.text, [pieces]);
  }
  const [most] = [...begins.values()].sort((a, b) => b.length - a.length);
  if (!most || most.length < Math.max(2, all.length / 2)) return undefined;
  const { members, length } = alike(most);
  let end = length;
  while (end > 0 && !/^ +$/.test(members[0]?.[end - 1]?.text ?? '')) end--;
  const pieces = templateOf(
    members.map((member) => member.slice(0, end)),
    usedNames,
  );
  const literals = pieces.flatMap((piece) => (piece.kind === 'literal' ? [piece.text] : [])).join('');
  const isSentence = (literals.match(/ /g)?.length ?? 0) >= leastBlanks && pieces.some(({ kind }) => kind === 'hole');
  return isSentence ? withRest(pieces, usedNames) : undefined;
}

/** Appends a message that takes the rest of the line. */
function withRest(pieces: readonly DraftPiece[], usedNames: ReadonlySet<string>): Mined {
  const name = free('message', new Set([...usedNames, ...namesOf(pieces)]));
  return {
    pieces: [...pieces, { kind: 'hole', name, type: 'rest', optional: false, values: [], fixed: false }],
    endsInRest: true,
  };
}

/** Lines with a common sequence of piece signatures, and its length. */
interface Alike {
  readonly members: readonly (readonly LinePiece[])[];
  readonly length: number;
}

/** The longest sequence of signatures that nearly all lines share, and the lines that have it. */
function alike(all: readonly (readonly LinePiece[])[]): Alike {
  let members = all.filter((pieces) => pieces.length > 0);
  const least = members.length * headShare;
  for (let length = 0; ; length++) {
    const counts = new Map<string, number>();
    for (const pieces of members) {
      const piece = pieces[length];
      if (piece) counts.set(signOf(piece), (counts.get(signOf(piece)) ?? 0) + 1);
    }
    const [most] = [...counts].sort((a, b) => b[1] - a[1]);
    if (!most || most[1] < least) return { members, length };
    members = members.filter((pieces) => pieces[length] && signOf(pieces[length] as LinePiece) === most[0]);
  }
}

/** The head that nearly all lines share, such as time, level and process, followed by the message. */
function headOf(all: readonly (readonly LinePiece[])[], usedNames: ReadonlySet<string>): Mined | undefined {
  const { members, length: common } = alike(all);
  const [first] = members;
  if (members.length < 2 || !first) return undefined;
  const length = lastOfHead(members, common);
  // Words and numbers alone are no head: any sentence may begin with them.
  const says = (piece: LinePiece, index: number): boolean =>
    piece.name !== undefined || programNames.has(nameByPlace(first, index)?.name ?? '');
  if (!first.slice(0, length).some(says)) return undefined;
  const pieces = templateOf(
    members.map((member) => member.slice(0, length)),
    usedNames,
  );
  return withRest(pieces, usedNames);
}

/**
 * A head ends behind its last value that shows what it is, a time, a level, a process or a number, and what parts it from the
 * message: words that come next are the message already. 0 where there is no such value.
 */
function lastOfHead(members: readonly (readonly LinePiece[])[], length: number): number {
  const [first = []] = members;
  for (let i = length - 1; i > 0; i--)
    if (isBehindHead(first, i) && members.every((pieces) => isClosed(pieces, i))) return i + 1;
  return 0;
}

/** Whether a separator can end the head. */
function isBehindHead(pieces: readonly LinePiece[], index: number): boolean {
  const { kind, text } = pieces[index] as LinePiece;
  const before = pieces[index - 1] as LinePiece;
  const isField = before.kind === 'value' || nameByPlace(pieces, index - 1)?.always === true;
  if (kind !== 'separator') return false;
  if (/^ +$/.test(text)) return isField || /^(?:[\])>:|]|-+)$/.test(before.text);
  return text === ':' && isField;
}

/** Whether all brackets are closed after a piece. */
function isClosed(pieces: readonly LinePiece[], index: number): boolean {
  let open = 0;
  for (const { kind, text } of pieces.slice(0, index + 1))
    if (kind === 'separator') open += /^[[(] *$/.test(text) ? 1 : /^[\])]$/.test(text) ? -1 : 0;
  return open === 0;
}

function namesOf(pieces: readonly DraftPiece[]): readonly string[] {
  return pieces.flatMap((piece) => (piece.kind === 'hole' ? [piece.name] : []));
}

/** A template for lines whose pieces correspond: values are holes, words too where they vary or where their place says what they are. */
function templateOf(kind: readonly (readonly LinePiece[])[], usedNames: ReadonlySet<string>): readonly DraftPiece[] {
  const [first = []] = kind;
  const names = new Set(usedNames);
  const pieces: DraftPiece[] = [];
  first.forEach((piece, index) => {
    const values = kind.map((member) => member[index]?.text ?? '');
    const byPlace = nameByPlace(first, index);
    const isConstant = new Set(values).size === 1;
    const isValue = kind.some((member) => member[index]?.kind === 'value');
    const stays =
      piece.kind === 'separator' || (isConstant && (isEmptyValue(piece.text) || (!isValue && !byPlace?.always)));
    if (stays) {
      const last = pieces[pieces.length - 1];
      const text = piece.text.replace(/ +/g, ' ');
      if (last?.kind === 'literal') pieces[pieces.length - 1] = { kind: 'literal', text: last.text + text };
      else pieces.push({ kind: 'literal', text });
      return;
    }
    const real = values.filter((value) => !isEmptyValue(value));
    const look = kind.find((member) => member[index]?.kind === 'value')?.[index];
    const type = typeOf(look, real);
    const name = free(byPlace?.name ?? look?.name ?? nameByLook(type, real), names);
    names.add(name);
    pieces.push({ kind: 'hole', name, type, optional: real.length < values.length, values: real, fixed: false });
  });
  return pieces;
}

/** The hole type: that of the recognised value if it fits all values, otherwise guessed. */
function typeOf(look: LinePiece | undefined, values: readonly string[]): string {
  if (look && look.type !== 'text' && values.every((value) => fitsType(value, look.type))) return look.type;
  if (look?.type === 'text' && look.name) return 'text';
  return guessType(values);
}

/** Makes a name unique by a number. */
function free(base: string, names: ReadonlySet<string>): string {
  if (!names.has(base)) return base;
  for (let n = 2; ; n++) if (!names.has(`${base}${n}`)) return `${base}${n}`;
}
