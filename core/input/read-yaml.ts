import { isMap, isScalar, isSeq, LineCounter, parseDocument } from 'yaml';
import { isInherited } from './inherited-keys.ts';
import type { InputProblem } from './input-problem.ts';

/** Something wrong in a text, with its line and column, from 1. */
export interface TextProblem extends InputProblem {
  readonly line: number;
  readonly column: number;
}

/** Line and column, from 1, of what a path names in a text, or of the nearest thing above it that is there. */
export type PlaceOf = (path: string) => { readonly line: number; readonly column: number };

/** A text that was read: what it says, and where. */
export interface ReadText {
  readonly value: unknown;
  readonly placeOf: PlaceOf;
}

/** A fault of the text; what the library met as it ran out of stack is one of its nesting. */
function faultOf({ message }: { readonly message: string }): string {
  return message.startsWith('Maximum call stack') ? 'it is nested too deeply' : message;
}

function whyUnread(error: unknown): string {
  if (error instanceof RangeError) return 'it is nested too deeply';
  if (error instanceof TypeError) return 'an alias stands for something that it is a part of';
  return error instanceof Error ? error.message : String(error);
}

/** Longest text, in characters, and most lines of it. */
const longestText = 1_000_000;
const mostLines = 50_000;
/** Most keys in one line, and in one mapping: no plan and no price book has as many. */
const mostKeys = 2_000;

/** Why a text is too much to be read; undefined when it is not. */
function boundOf(text: string): string | undefined {
  if (text.length > longestText) return `the text is longer than ${longestText / 1e6} million characters`;
  let lines = 1;
  let keys = 0;
  let opened = 0;
  for (let at = 0; at < text.length; at++) {
    const character = text.charCodeAt(at);
    if (character === 10) {
      lines++;
      keys = 0;
      opened = 0;
    } else if (character === 58 || character === 44) keys++;
    else if (character === 91 || character === 123) opened++;
    if (keys > mostKeys * 5 || opened > mostKeys) return `line ${lines} holds more than a plan needs`;
  }
  return lines > mostLines ? `the text has more than ${mostLines} lines` : undefined;
}

/** The first key that no mapping may have, that one holds twice, or one too many, and where; each mapping is gone through once. */
function wrongKey(root: unknown): { readonly message: string; readonly offset: number } | undefined {
  const open: unknown[] = [root];
  for (let node = open.pop(); node !== undefined; node = open.pop()) {
    if (isSeq(node)) open.push(...node.items);
    if (!isMap(node)) continue;
    const names = new Set<string>();
    for (const { key, value } of node.items) {
      const name = isScalar(key) ? String(key.value) : '';
      const offset = isScalar(key) ? (key.range?.[0] ?? 0) : 0;
      if (isInherited(name)) return { message: `nothing may be called ${name} here`, offset };
      if (names.has(name)) return { message: `${name} stands here a second time`, offset };
      if (names.size >= mostKeys) return { message: `a mapping has more than ${mostKeys} keys`, offset };
      names.add(name);
      if (value) open.push(value);
    }
  }
  return undefined;
}

/**
 * Reads YAML (or JSON, which YAML 1.2 contains) that someone else wrote: a text that is too large, nested too deeply, or that
 * expands beyond all bounds is refused, as is a key that stands twice or that every object inherits.
 */
export function readYaml(text: string): ReadText | { readonly problems: readonly TextProblem[] } {
  const counter = new LineCounter();
  const bound = boundOf(text);
  if (bound) return { problems: [{ path: '', message: bound, line: 1, column: 1 }] };
  // That a key comes twice is looked for below: the library compares each with each.
  let document: ReturnType<typeof parseDocument>;
  try {
    document = parseDocument(text, { lineCounter: counter, prettyErrors: false, uniqueKeys: false });
  } catch (error) {
    return { problems: [{ path: '', message: whyUnread(error), line: 1, column: 1 }] };
  }
  const place = (offset: number) => {
    const { line, col } = counter.linePos(offset);
    return { line, column: col };
  };
  if (document.errors.length > 0) {
    return {
      problems: document.errors.map((error) => ({ path: '', message: faultOf(error), ...place(error.pos[0]) })),
    };
  }
  const wrong = wrongKey(document.contents);
  if (wrong) return { problems: [{ path: '', message: wrong.message, ...place(wrong.offset) }] };
  let value: unknown;
  try {
    // Aliases are expanded a hundredfold at most: more would be made to fill the memory.
    value = document.toJS({ maxAliasCount: 100 });
    // An alias of what it is in has no end.
    JSON.stringify(value);
  } catch (error) {
    return {
      problems: [{ path: '', message: whyUnread(error), line: 1, column: 1 }],
    };
  }
  return {
    value,
    placeOf: (path) => {
      const keys = [...path.matchAll(/[^.[\]]+/g)].map(([key]) => (/^\d+$/.test(key) ? Number(key) : key));
      for (let length = keys.length; length > 0; length--) {
        const node: unknown = document.getIn(keys.slice(0, length), true);
        if (typeof node === 'object' && node !== null && 'range' in node && Array.isArray(node.range))
          return place(Number(node.range[0]));
      }
      return { line: 1, column: 1 };
    },
  };
}
