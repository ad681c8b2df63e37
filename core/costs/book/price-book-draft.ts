import { isMap, isScalar, isSeq, parseDocument } from 'yaml';

/** A way into a book: names of properties and places in lists. */
export type BookPath = readonly (string | number)[];

/**
 * A price book while it is being written, as its YAML: it can be changed place by place, whatever is wrong with it, and keeps
 * its comments.
 */
export class PriceBookDraft {
  private readonly document;

  constructor(text: string) {
    this.document = parseDocument(text);
  }

  /** Whether it is YAML with properties at all; else it can be changed as text alone. */
  get isWhole(): boolean {
    return this.document.errors.length === 0 && isMap(this.document.contents);
  }

  /** What is at a place, as a text; empty for nothing, and for what is no single value. */
  at(path: BookPath): string {
    const value: unknown = this.document.getIn(path);
    return value === undefined || value === null || isMap(value) || isSeq(value) || isScalar(value)
      ? ''
      : String(value);
  }

  /** How many parts a list has; 0 where there is none. */
  count(path: BookPath): number {
    const value: unknown = this.document.getIn(path);
    return isSeq(value) ? value.items.length : 0;
  }

  /** The text with another value at a place: a number where it is one, nothing where it is empty. */
  with(path: BookPath, value: string): string {
    const copy = this.document.clone();
    const text = value.trim();
    if (text === '') copy.deleteIn(path);
    else copy.setIn(path, isNumber(text) ? Number(text) : text);
    return clean(copy, path);
  }

  /** The text with one more part at the end of a list. */
  withPart(path: BookPath, part: object): string {
    const copy = this.document.clone();
    if (isSeq(copy.getIn(path))) copy.addIn(path, copy.createNode(part));
    else copy.setIn(path, copy.createNode([part]));
    return String(copy);
  }

  /** The text without a part, and without the list where it was the only one. */
  without(path: BookPath): string {
    const copy = this.document.clone();
    copy.deleteIn(path);
    return clean(copy, path);
  }
}

function isNumber(text: string): boolean {
  return /^-?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?$/i.test(text);
}

/** Takes out the lists and maps above a place that have nothing in them any more. */
function clean(document: ReturnType<typeof parseDocument>, path: BookPath): string {
  for (let length = path.length - 1; length > 0; length--) {
    const above: unknown = document.getIn(path.slice(0, length));
    const isEmpty = (isSeq(above) || isMap(above)) && above.items.length === 0;
    if (isEmpty && typeof path[length - 1] === 'string') document.deleteIn(path.slice(0, length));
  }
  return String(document);
}
