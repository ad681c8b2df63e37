import { decode, encode } from '../events/text-table.ts';
import { formatOf, formatsSeen } from '../formats/seen.ts';
import { guessType } from './guess-type.ts';
import { holeTypes } from './hole-types.ts';
import { fits } from './learn.ts';
import { type DraftPiece, writeTemplate } from './write.ts';

/** A way to read some lines, with the share of them that it fits (0 to 1). */
export interface Proposal {
  readonly kind: 'format' | 'template' | 'step';
  /** Id of the format, the text of the template, or the kind of step. */
  readonly value: string;
  readonly title: string;
  readonly share: number;
}

/** Lines looked at. */
const mostLines = 500;
/** A proposal must fit this share of the lines, and there are at most so many. */
const leastShare = 0.02;
const mostProposals = 6;

/** Widespread line formats of open standards, as templates. */
const known: readonly (readonly [title: string, template: string])[] = [
  [
    'Combined log format',
    '{client} {} {user?} [{at:clf}] "{method} {path} HTTP/{version}" {status:int} {bytes?:bytes} "{referrer?}" "{agent?}"',
  ],
  ['Common log format', '{client} {} {user?} [{at:clf}] "{method} {path} HTTP/{version}" {status:int} {bytes?:bytes}'],
];

/** Proposes formats, steps and whole templates for lines, those that fit most of them first. */
export function propose(all: readonly string[]): readonly Proposal[] {
  const lines = all.filter((line) => line.trim() !== '').slice(0, mostLines);
  if (lines.length === 0) return [];
  const share = (count: number): number => count / lines.length;
  const proposals: Proposal[] = formatsSeen(lines)
    .filter(({ id }) => id !== 'text')
    .map(({ id, ...format }) => ({ kind: 'format', value: id, ...format }));
  const plain = lines.filter((line) => formatOf(line).id === 'text');
  const pairs = plain.filter((line) => (line.match(/(?:^|[\s,])[\w.@-]+=/g) ?? []).length >= 3).length;
  if (pairs > 0) proposals.push({ kind: 'step', value: 'parse-pairs', title: 'name=value pairs', share: share(pairs) });
  for (const [title, template] of known) {
    const count = plain.filter((line) => fits(template, line)).length;
    if (count > 0) proposals.push({ kind: 'template', value: template, title, share: share(count) });
  }
  for (const template of mine(plain)) {
    const count = plain.filter((line) => fits(template, line)).length;
    proposals.push({ kind: 'template', value: template, title: 'as these lines are made', share: share(count) });
  }
  return proposals
    .filter((proposal) => proposal.share >= leastShare)
    .sort((a, b) => b.share - a.share)
    .slice(0, mostProposals);
}

/** A piece of a line: a word, a time, or what separates them. */
interface Token {
  readonly kind: 'word' | 'time' | 'separator';
  readonly text: string;
  readonly type: string;
}

const separators = /[\s,;|="[\](){}<>]/;
const times = ['iso', 'clf', 'syslog'] as const;

function tokensOf(line: string): readonly Token[] {
  const bytes = encode(line);
  const tokens: Token[] = [];
  let at = 0;
  while (at < bytes.length) {
    const time = tokens[tokens.length - 1]?.kind === 'word' ? undefined : timeAt(bytes, at);
    if (time) {
      tokens.push({ kind: 'time', text: decode(bytes, at, time.end), type: time.type });
      at = time.end;
      continue;
    }
    const from = at;
    const isSeparator = separators.test(String.fromCharCode(bytes[at] as number));
    at++;
    if (isSeparator) while (at < bytes.length && bytes[at] === 32 && bytes[from] === 32) at++;
    else while (at < bytes.length && !separators.test(String.fromCharCode(bytes[at] as number))) at++;
    tokens.push({ kind: isSeparator ? 'separator' : 'word', text: decode(bytes, from, at), type: '' });
  }
  return tokens;
}

function timeAt(bytes: Uint8Array, at: number): { readonly end: number; readonly type: string } | undefined {
  for (const name of times) {
    const type = holeTypes.get(name);
    const end = type?.extent?.(bytes, at, bytes.length) ?? -1;
    if (end <= at) continue;
    const value = type?.read?.(bytes, at, end, Date.now()) ?? Number.NaN;
    if (value === value) return { end, type: name };
  }
  return undefined;
}

/** Kinds of lines with this share of all lines become templates. */
const leastKind = 0.05;
const mostKinds = 4;

/** Templates for the kinds of lines there are: lines whose separators stand in the same order are of one kind. */
function mine(lines: readonly string[]): readonly string[] {
  const kinds = new Map<string, (readonly Token[])[]>();
  for (const line of lines) {
    const tokens = tokensOf(line);
    const skeleton = tokens
      .map((token) => (token.kind === 'separator' ? token.text.charAt(0) : token.kind === 'time' ? 't' : 'w'))
      .join('');
    const kind = kinds.get(skeleton);
    if (kind) kind.push(tokens);
    else kinds.set(skeleton, [tokens]);
  }
  const frequent = [...kinds.values()]
    .filter((kind) => kind.length >= Math.max(2, lines.length * leastKind))
    .sort((a, b) => b.length - a.length);
  const templates = frequent.slice(0, mostKinds).map(templateOfKind);
  // Where no kind is that of most lines, they may be free text behind a common beginning.
  const prefix = (frequent[0]?.length ?? 0) < lines.length / 2 ? prefixTemplate(lines) : undefined;
  return [...new Set([...templates, ...(prefix ? [prefix] : [])])];
}

function templateOfKind(kind: readonly (readonly Token[])[]): string {
  const [first = []] = kind;
  const names = new Set<string>();
  const pieces: DraftPiece[] = [];
  first.forEach((token, index) => {
    const values = kind.map((tokens) => tokens[index]?.text ?? '');
    const constant = token.kind === 'separator' || (token.kind === 'word' && new Set(values).size === 1);
    if (constant) {
      const last = pieces[pieces.length - 1];
      if (last?.kind === 'literal') pieces[pieces.length - 1] = { kind: 'literal', text: last.text + token.text };
      else pieces.push({ kind: 'literal', text: token.text });
      return;
    }
    const optional = values.some((value) => value === '-');
    const real = values.filter((value) => value !== '-');
    const type = token.kind === 'time' ? token.type : guessType(real);
    const name = nameFor(first, index, type, real, names);
    names.add(name);
    pieces.push({ kind: 'hole', name, type, optional, values: real, fixed: false });
  });
  return writeTemplate(pieces);
}

/** Lines that begin alike and end in free text: what they share at the beginning, and the rest as the message. */
function prefixTemplate(lines: readonly string[]): string | undefined {
  const all = lines.map(tokensOf);
  const [first] = all;
  if (!first) return undefined;
  let shared = 0;
  const same = (index: number): boolean => {
    const token = first[index];
    const alike = all.filter(
      (tokens) =>
        tokens[index]?.kind === token?.kind && (token?.kind !== 'separator' || tokens[index]?.text === token.text),
    );
    return token !== undefined && alike.length >= all.length * 0.9;
  };
  while (shared < first.length && same(shared)) shared++;
  while (shared > 0 && first[shared - 1]?.kind !== 'separator') shared--;
  if (shared < 2) return undefined;
  const head = templateOfKind(all.filter((tokens) => tokens.length >= shared).map((tokens) => tokens.slice(0, shared)));
  return `${head}{message:rest}`;
}

/** A name for a hole: the word before an equals sign, or what its values look like. */
function nameFor(
  tokens: readonly Token[],
  index: number,
  type: string,
  values: readonly string[],
  usedNames: ReadonlySet<string>,
): string {
  const before = tokens[index - 1]?.text;
  const word = tokens[index - (before === '"' ? 3 : 2)]?.text ?? '';
  const equals = before === '=' || (before === '"' && tokens[index - 2]?.text === '=');
  const base = equals && /^[A-Za-z_][\w.-]*$/.test(word) ? word : nameByValue(type, values);
  if (!usedNames.has(base)) return base;
  for (let n = 2; ; n++) if (!usedNames.has(`${base}${n}`)) return `${base}${n}`;
}

function nameByValue(type: string, values: readonly string[]): string {
  const all = (shape: RegExp): boolean => values.length > 0 && values.every((value) => shape.test(value));
  if (type === 'iso' || type === 'clf' || type === 'syslog') return 'at';
  if (type === 'ip') return 'client';
  if (type === 'duration') return 'took';
  if (type === 'size') return 'size';
  if (type === 'int' && all(/^[1-5]\d\d$/)) return 'status';
  if (type === 'int' || type === 'number') return 'number';
  if (all(/^(GET|POST|PUT|DELETE|HEAD|PATCH|OPTIONS)$/)) return 'method';
  if (all(/^(trace|debug|info|notice|warn|warning|error|fatal|critical|[TDIWEF])$/i)) return 'level';
  if (all(/^\//)) return 'path';
  return 'word';
}
