import { type ByteSet, PatternFault, type PatternNode, parsePattern } from './parse.ts';

/** A compiled regular expression over UTF-8. */
export interface Pattern {
  /** Whether the pattern occurs in `bytes[start..end)`. Linear in the length, whatever the pattern. */
  test(bytes: Uint8Array, start: number, end: number): boolean;
}

/** Most automaton positions a pattern may need. */
const maxPositions = 20_000;
/** States kept before the cache starts afresh. */
const maxStates = 2_000;

/** One position of the non-deterministic automaton. */
type Position =
  | { readonly kind: 'bytes'; readonly set: ByteSet; next: number }
  | { readonly kind: 'split'; readonly next: number[] }
  | { readonly kind: 'start' | 'end'; next: number }
  | { readonly kind: 'match' };

/**
 * Compiles a regular expression. It is turned into a non-deterministic automaton (K. Thompson, "Regular Expression
 * Search Algorithm", 1968), whose sets of positions become states of a deterministic one as they are met, so that every
 * byte is looked at once. Throws {@link PatternFault} for what cannot be matched that way.
 */
export function compilePattern(source: string, flags = ''): Pattern {
  const unknown = /[^i]/.exec(flags);
  if (unknown) throw new PatternFault(`the flag ${unknown[0]} is not known; i is`, source.length);
  const positions = build(parsePattern(source, flags.includes('i')), source.length);
  return new LazyAutomaton(positions);
}

function build(root: PatternNode, sourceLength: number): readonly Position[] {
  const positions: Position[] = [{ kind: 'match' }];
  const add = (position: Position): number => {
    if (positions.length >= maxPositions) throw new PatternFault('the pattern is too large', sourceLength);
    return positions.push(position) - 1;
  };
  /** Adds the positions of `node`, going on to `next`; returns where they begin. */
  const place = (node: PatternNode, next: number): number => {
    switch (node.kind) {
      case 'bytes':
        return add({ kind: 'bytes', set: node.set, next });
      case 'start':
      case 'end':
        return add({ kind: node.kind, next });
      case 'sequence':
        return node.parts.reduceRight((after, part) => place(part, after), next);
      case 'either':
        return add({ kind: 'split', next: node.parts.map((part) => place(part, next)) });
      case 'repeat': {
        let after = next;
        if (node.high === Number.POSITIVE_INFINITY) {
          const exits: number[] = [];
          const loop = add({ kind: 'split', next: exits });
          exits.push(place(node.part, loop), next);
          after = loop;
        } else {
          for (let i = node.low; i < node.high; i++)
            after = add({ kind: 'split', next: [place(node.part, after), next] });
        }
        for (let i = 0; i < node.low; i++) after = place(node.part, after);
        return after;
      }
    }
  };
  const first = place(root, 0);
  positions.push({ kind: 'split', next: [first] });
  return positions;
}

interface State {
  /** Positions that wait for a byte, or for the end of the text. */
  readonly members: readonly number[];
  readonly matches: boolean;
  readonly matchesAtEnd: boolean;
  readonly next: (State | undefined)[];
}

class LazyAutomaton implements Pattern {
  private states = new Map<string, State>();
  private readonly entry: number;
  private initial: State;

  constructor(private readonly positions: readonly Position[]) {
    this.entry = positions.length - 1;
    this.initial = this.state([this.entry], true);
  }

  test(bytes: Uint8Array, start: number, end: number): boolean {
    let state = this.initial;
    for (let at = start; at < end; at++) {
      if (state.matches) return true;
      const byte = bytes[at] as number;
      state = state.next[byte] ?? this.advance(state, byte);
    }
    return state.matches || state.matchesAtEnd;
  }

  private advance(state: State, byte: number): State {
    const reached = [this.entry];
    for (const index of state.members) {
      const position = this.positions[index] as Position;
      if (position.kind === 'bytes' && position.set[byte] === 1) reached.push(position.next);
    }
    if (this.states.size >= maxStates) {
      this.states = new Map();
      this.initial = this.state([this.entry], true);
    }
    const next = this.state(reached, false);
    state.next[byte] = next;
    return next;
  }

  private state(from: readonly number[], atStart: boolean): State {
    const members = this.closure(from, atStart, false);
    const key = `${atStart}:${members.join()}`;
    const known = this.states.get(key);
    if (known) return known;
    const state: State = {
      members,
      matches: members.includes(0),
      matchesAtEnd: this.closure(from, atStart, true).includes(0),
      next: new Array<State | undefined>(256).fill(undefined),
    };
    this.states.set(key, state);
    return state;
  }

  /** All positions reached without reading a byte, sorted. */
  private closure(from: readonly number[], atStart: boolean, atEnd: boolean): readonly number[] {
    const seen = new Set<number>();
    const open = [...from];
    for (let index = open.pop(); index !== undefined; index = open.pop()) {
      if (seen.has(index)) continue;
      seen.add(index);
      const position = this.positions[index] as Position;
      if (position.kind === 'split') open.push(...position.next);
      else if (position.kind === 'start' ? atStart : position.kind === 'end' && atEnd) {
        open.push((position as { next: number }).next);
      }
    }
    return [...seen].filter((index) => (this.positions[index] as Position).kind !== 'split').sort((a, b) => a - b);
  }
}
