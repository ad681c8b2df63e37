/** Receives a found value as a span of the text. */
export type FoundVisitor = (start: number, end: number) => void;

/** Finds values of one kind in a text, from left to right and without overlap, in time linear in its length. */
export type FindValues = (bytes: Uint8Array, start: number, end: number, visit: FoundVisitor) => void;

/** A kind of value that must not be kept as it is. */
export interface Detector {
  readonly id: string;
  readonly title: string;
  /** One sentence: what it takes for such a value. */
  readonly help: string;
  readonly find: FindValues;
  /** Names of fields, lower case and without what is before their last dot, whose whole value is such a value. */
  readonly names?: ReadonlySet<string>;
}

export function isDigit(byte: number | undefined): boolean {
  return byte !== undefined && byte >= 48 && byte <= 57;
}

export function isLetter(byte: number | undefined): boolean {
  return byte !== undefined && ((byte | 32) - 97) >>> 0 < 26;
}

export function isWordByte(byte: number | undefined): boolean {
  return isDigit(byte) || isLetter(byte) || byte === 95;
}
