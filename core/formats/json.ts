import { type AttributeBuilder, type BatchBuilder, maxNameBytes } from '../events/batch-builder.ts';
import { isInfinite, readNumber } from '../events/numbers.ts';
import { severityFromBytes, severityFromNumber } from '../events/severity.ts';
import { decode, encode, fnvBasis, fnvPrime } from '../events/text-table.ts';
import { readIso, timeFromEpoch } from '../events/times.ts';
import type { Format, ReadContext, RecordReader } from './format.ts';

/** Deepest nesting that becomes dotted names; what is deeper is kept as JSON text. */
const maxDepth = 16;

/** What a top-level member means besides being an attribute. */
type Role = 'time' | 'severity' | 'body' | 'emitter' | undefined;

const roles = new Map<string, Role>([
  ['time', 'time'],
  ['timestamp', 'time'],
  ['ts', 'time'],
  ['@timestamp', 'time'],
  ['datetime', 'time'],
  ['date', 'time'],
  ['severity', 'severity'],
  ['level', 'severity'],
  ['lvl', 'severity'],
  ['loglevel', 'severity'],
  ['severity_text', 'severity'],
  ['message', 'body'],
  ['msg', 'body'],
  ['body', 'body'],
  ['log', 'body'],
  ['text', 'body'],
  ['host', 'emitter'],
  ['hostname', 'emitter'],
  ['host.name', 'emitter'],
]);

/**
 * A member name as it appears in the lines. Members of one object are remembered in the order in which they came, so
 * that the next line, most likely of the same make, is read by comparing instead of looking up.
 */
interface Member {
  /** The name's bytes, as written between the quotes. */
  readonly key: Uint8Array;
  readonly path: string;
  readonly role: Role;
  readonly order: Member[];
  readonly byName: Map<string, Member>;
  attribute: AttributeBuilder | undefined;
  /** The builder that `attribute` and `skip` belong to. */
  owner: BatchBuilder | undefined;
  /** Whether nobody wants the value. */
  skip: boolean;
}

function member(key: Uint8Array, name: string, parent: Member | undefined): Member {
  const path = parent && parent.path !== '' ? `${parent.path}.${name}` : name;
  return {
    key,
    path,
    role: roles.get(path.toLowerCase()),
    order: [],
    byName: new Map(),
    attribute: undefined,
    owner: undefined,
    skip: false,
  };
}

/** Most member names remembered per object, and in all; beyond it names are looked up each time. */
const maxRemembered = 600;
const maxRememberedInAll = 5_000;

const noBytes = new Uint8Array(0);

/** Thrown inside the reader only; `at` is the offset of the byte that was not expected. */
class Unexpected extends Error {
  constructor(
    readonly at: number,
    readonly expected: string,
  ) {
    super(expected);
  }
}

/**
 * Reads JSON objects (RFC 8259) straight from their bytes into columns: no value becomes a JavaScript object on the way.
 * Nested objects give dotted names, lists are kept as JSON text, `null` is the same as absent.
 */
class JsonReader {
  private root = member(noBytes, '', undefined);
  private remembered = 0;
  private bytes: Uint8Array = noBytes;
  private at = 0;
  private end = 0;
  private builder!: BatchBuilder;
  private time = Number.NaN;
  private wanted: ReadonlySet<string> | undefined;

  read(bytes: Uint8Array, start: number, end: number, builder: BatchBuilder, context: ReadContext): string | undefined {
    this.bytes = bytes;
    this.at = start;
    this.end = end;
    this.builder = builder;
    this.time = Number.NaN;
    this.wanted = context.wanted;
    try {
      this.blanks();
      if (this.bytes[this.at] !== 123) throw new Unexpected(this.at, 'an object, beginning with {');
      this.object(this.root, 1);
      this.blanks();
      if (this.at < this.end) throw new Unexpected(this.at, 'nothing after the object');
    } catch (fault) {
      if (!(fault instanceof Unexpected)) throw fault;
      builder.rollback();
      return `not JSON at byte ${fault.at - start + 1}: expected ${fault.expected}`;
    } finally {
      // What was read last is not kept in memory until the next record comes.
      this.bytes = noBytes;
    }
    builder.setTime(this.time);
    const backfill = context.backfill && this.time === this.time;
    builder.commit(backfill ? this.time : context.received, end - start, true);
    return undefined;
  }

  private blanks(): void {
    const { bytes } = this;
    let { at } = this;
    for (; at < this.end; at++) {
      const byte = bytes[at] as number;
      if (byte !== 32 && byte !== 9 && byte !== 13 && byte !== 10) break;
    }
    this.at = at;
  }

  private object(parent: Member, depth: number): void {
    this.at++;
    this.blanks();
    if (this.bytes[this.at] === 125 && this.at < this.end) {
      this.at++;
      return;
    }
    let next = 0;
    for (;;) {
      if (this.bytes[this.at] !== 34 || this.at >= this.end) throw new Unexpected(this.at, 'a name in quotes');
      const found = this.expectedMember(parent, next) ?? this.lookUpMember(parent);
      const place = parent.order[next] === found ? next : parent.order.indexOf(found);
      next = place + 1;
      if (this.bytes[this.at] !== 58) {
        this.blanks();
        if (this.bytes[this.at] !== 58 || this.at >= this.end) throw new Unexpected(this.at, 'a colon');
      }
      this.at++;
      const first = this.bytes[this.at];
      if (first === 32 || first === 9) this.blanks();
      this.value(found, depth);
      let byte = this.bytes[this.at];
      if (byte !== 44 && byte !== 125) {
        this.blanks();
        byte = this.bytes[this.at];
      }
      if (this.at >= this.end) throw new Unexpected(this.at, 'a comma or }');
      this.at++;
      if (byte === 125) return;
      if (byte !== 44) throw new Unexpected(this.at - 1, 'a comma or }');
      if (this.bytes[this.at] !== 34) this.blanks();
    }
  }

  /** The member that came next in an earlier line, when this name is the same. */
  private expectedMember(parent: Member, next: number): Member | undefined {
    const { bytes, at } = this;
    const last = Math.min(parent.order.length, next + 3);
    for (let k = next; k < last; k++) {
      const candidate = parent.order[k] as Member;
      const { key } = candidate;
      const { length } = key;
      if (bytes[at + 1 + length] !== 34) continue;
      let i = 0;
      while (i < length && bytes[at + 1 + i] === key[i]) i++;
      if (i < length) continue;
      this.at = at + length + 2;
      return candidate;
    }
    return undefined;
  }

  private lookUpMember(parent: Member): Member {
    const start = this.at;
    const name = this.string();
    const known = parent.byName.get(name);
    if (known) return known;
    const added = member(this.bytes.slice(start + 1, this.at - 1), name, parent);
    const isShort = added.key.length <= maxNameBytes;
    if (isShort && parent.order.length < maxRemembered && this.remembered < maxRememberedInAll) {
      this.remembered++;
      parent.byName.set(name, added);
      // A name with an escape is never compared by its bytes, only looked up.
      if (!added.key.includes(92)) parent.order.push(added);
    }
    return added;
  }

  private value(target: Member, depth: number): void {
    const { bytes, at } = this;
    if (this.wanted !== undefined && this.isSkipped(target) && this.skipValue()) return;
    if (at >= this.end) throw new Unexpected(at, 'a value');
    switch (bytes[at]) {
      case 34:
        this.textValue(target);
        return;
      case 123:
        if (depth < maxDepth) this.object(target, depth + 1);
        else this.nested(target);
        return;
      case 91:
        this.nested(target);
        return;
      case 116:
        this.word('true');
        this.attributeOf(target)?.setFlag(this.builder.row, true);
        return;
      case 102:
        this.word('false');
        this.attributeOf(target)?.setFlag(this.builder.row, false);
        return;
      case 110:
        this.word('null');
        return;
      default:
        this.numberValue(target);
    }
  }

  private isSkipped(target: Member): boolean {
    if (target.owner !== this.builder) {
      const name = target.path.toLowerCase();
      target.owner = this.builder;
      target.skip = !this.wanted?.has(name) && !this.wanted?.has(target.role ?? '');
      target.attribute = target.skip ? undefined : this.builder.attribute(target.path);
    }
    return target.skip;
  }

  /** Passes a text, number or word whose value nobody wants; false for anything that needs a closer look. */
  private skipValue(): boolean {
    const { bytes, end } = this;
    let { at } = this;
    if (bytes[at] === 34) {
      at = bytes.indexOf(34, at + 1);
      if (at < 0 || at >= end || bytes[at - 1] === 92) return false;
      this.at = at + 1;
      return true;
    }
    if (bytes[at] === 123 || bytes[at] === 91) return false;
    for (; at < end; at++) {
      const byte = bytes[at] as number;
      if (byte === 44 || byte === 125 || byte <= 32) break;
    }
    this.at = at;
    return true;
  }

  /** The end of a string is found and, where the text will be looked up, its hash computed in the same pass. */
  private textValue(target: Member): void {
    const { bytes, end } = this;
    const start = this.at + 1;
    let at = start;
    let hash = fnvBasis;
    let byte = 0;
    if (target.role === 'body') {
      for (; at < end; at++) {
        byte = bytes[at] as number;
        if (byte === 34 || byte === 92 || byte < 32) break;
      }
    } else {
      for (; at < end; at++) {
        byte = bytes[at] as number;
        if (byte === 34 || byte === 92 || byte < 32) break;
        hash = Math.imul(hash ^ byte, fnvPrime);
      }
    }
    if (at >= end || byte !== 34) {
      this.escapedText(target);
      return;
    }
    this.at = at + 1;
    if (target.role !== undefined) {
      if (this.takeRole(target.role, bytes, start, at)) return;
      this.attributeOf(target)?.setText(this.builder.row, bytes, start, at);
    } else this.attributeOf(target)?.setTextHashed(this.builder.row, bytes, start, at, hash);
  }

  private escapedText(target: Member): void {
    const text = encode(this.string());
    if (target.role !== undefined && this.takeRole(target.role, text, 0, text.length)) return;
    this.attributeOf(target)?.setText(this.builder.row, text, 0, text.length);
  }

  private takeRole(role: Role, bytes: Uint8Array, start: number, end: number): boolean {
    const { builder } = this;
    if (role === 'body') {
      if (builder.hasBody) return false;
      builder.setBody(bytes, start, end);
      return true;
    }
    if (role === 'time') {
      const time = readIso(bytes, start, end);
      if (time !== time || this.time === this.time) return false;
      this.time = time;
      return true;
    }
    if (role === 'severity') {
      const severity = severityFromBytes(bytes, start, end);
      if (severity === 0) return false;
      builder.setSeverity(severity);
      return true;
    }
    builder.emitter.set(builder.row, bytes, start, end);
    return true;
  }

  private numberValue(target: Member): void {
    const { bytes } = this;
    const start = this.at;
    let at = start;
    for (; at < this.end; at++) {
      const byte = bytes[at] as number;
      if (byte === 44 || byte === 125 || byte <= 32 || byte === 93) break;
    }
    const value = readNumber(bytes, start, at);
    const second = bytes[start] === 45 ? bytes[start + 1] : bytes[start];
    const infinite = value !== value && isInfinite(bytes, start, at);
    if ((value !== value && !infinite) || second === 46 || bytes[start] === 43) throw new Unexpected(start, 'a value');
    this.at = at;
    if (infinite) {
      this.attributeOf(target)?.setText(this.builder.row, bytes, start, at);
      return;
    }
    if (target.role === 'time' && this.time !== this.time) this.time = timeFromEpoch(value);
    else if (target.role === 'severity' && severityFromNumber(value) > 0) {
      this.builder.setSeverity(severityFromNumber(value));
    } else this.attributeOf(target)?.setNumber(this.builder.row, value);
  }

  /** A list, or an object that is too deep: kept as its JSON text. */
  private nested(target: Member): void {
    const { bytes } = this;
    const start = this.at;
    let open = 0;
    let at = start;
    for (; at < this.end; at++) {
      const byte = bytes[at];
      if (byte === 34) {
        this.at = at;
        this.string();
        at = this.at - 1;
      } else if (byte === 91 || byte === 123) open++;
      else if ((byte === 93 || byte === 125) && --open === 0) break;
    }
    this.at = at + 1;
    // Nesting beyond this is not worth handing to the recursive language parser.
    if (at >= this.end || !isJson(decode(bytes, start, at + 1)))
      throw new Unexpected(start, 'a well-formed list or object');
    this.attributeOf(target)?.setText(this.builder.row, bytes, start, at + 1);
  }

  private word(word: string): void {
    for (let i = 0; i < word.length; i++) {
      if (this.bytes[this.at + i] !== word.charCodeAt(i) || this.at + i >= this.end)
        throw new Unexpected(this.at, 'a value');
    }
    this.at += word.length;
  }

  /** The string at the current position, escapes resolved. */
  private string(): string {
    const start = this.at;
    let at = start + 1;
    let escaped = false;
    for (; at < this.end; at++) {
      const byte = this.bytes[at] as number;
      if (byte === 34) break;
      if (byte < 32) throw new Unexpected(at, 'no control character inside a text');
      if (byte === 92) {
        escaped = true;
        at++;
      }
    }
    if (at >= this.end) throw new Unexpected(this.end, 'the closing quote');
    this.at = at + 1;
    if (!escaped) return decode(this.bytes, start + 1, at);
    try {
      return String(JSON.parse(decode(this.bytes, start, at + 1)));
    } catch {
      throw new Unexpected(start, 'only the escapes that JSON knows');
    }
  }

  private attributeOf(target: Member): AttributeBuilder | undefined {
    const { builder } = this;
    if (target.owner !== builder) {
      target.owner = builder;
      target.attribute = builder.attribute(target.path);
    }
    if (target.attribute === undefined) builder.attributesLeftOut++;
    return target.attribute;
  }
}

function isJson(text: string): boolean {
  try {
    JSON.parse(text);
    return true;
  } catch {
    return false;
  }
}

/** One JSON object a line. Time, severity, body and emitter are recognised by the usual member names. */
export const json: Format = {
  id: 'json',
  title: 'JSON lines',
  fits: (bytes, start) => bytes[start] === 123,
  reader: (): RecordReader => {
    const reader = new JsonReader();
    return (bytes, start, end, builder, context) => reader.read(bytes, start, end, builder, context);
  },
};
