import { isHole, isWord, type Skeleton, valueHole, wordHole } from './token.ts';

/** A kind of line. */
export interface Shape {
  /** Ten letters and digits; it stays when holes are found in it. */
  readonly id: string;
  readonly skeleton: Skeleton;
}

/** Shapes with the same marks and blanks and the same number of words between them. */
interface Frame {
  /** By their skeletons. */
  readonly shapes: Map<string, Shape>;
  /** The sets of places where their words vary, and how many shapes have each. */
  readonly places: Map<string, { readonly places: readonly number[]; shapes: number }>;
}

/**
 * Finds the shape of a skeleton among many. Shapes whose words vary at the same places differ in their constant words alone,
 * so each such set of places is one look into a table (tuple space search: V. Srinivasan, S. Suri, G. Varghese, "Packet
 * classification using tuple space search", 1999).
 */
export class ShapeIndex {
  private readonly frames = new Map<string, Frame>();
  private readonly byId = new Map<string, Shape>();

  get size(): number {
    return this.byId.size;
  }

  get(id: string): Shape | undefined {
    return this.byId.get(id);
  }

  /** All shapes, in the order in which they were put in. */
  list(): readonly Shape[] {
    return [...this.byId.values()];
  }

  /** The shape that a skeleton has: one with the same constant words; of several, the one with the fewest varying ones. */
  find(skeleton: Skeleton): Shape | undefined {
    const frame = this.frames.get(frameOf(skeleton));
    if (!frame) return undefined;
    let found: Shape | undefined;
    let fewest = Number.POSITIVE_INFINITY;
    for (const { places } of frame.places.values()) {
      if (places.length >= fewest) continue;
      const shape = frame.shapes.get(keyOf(withWordHoles(skeleton, places)));
      if (!shape) continue;
      found = shape;
      fewest = places.length;
    }
    return found;
  }

  /**
   * All shapes that a skeleton with holes for words stands for, its own among them; none where more than `most` have its
   * marks.
   */
  covered(skeleton: Skeleton, most = Number.POSITIVE_INFINITY): readonly Shape[] {
    const shapes = this.frames.get(frameOf(skeleton))?.shapes ?? new Map<string, Shape>();
    if (shapes.size > most) return [];
    return [...shapes.values()].filter((shape) =>
      skeleton.every((token, place) => token === wordHole || token === shape.skeleton[place]),
    );
  }

  /** Puts a shape in, in the place of the one with its id. */
  put(shape: Shape): void {
    this.remove(shape.id);
    this.byId.set(shape.id, shape);
    const key = frameOf(shape.skeleton);
    let frame = this.frames.get(key);
    if (!frame) this.frames.set(key, (frame = { shapes: new Map(), places: new Map() }));
    frame.shapes.set(keyOf(shape.skeleton), shape);
    const places = wordHoles(shape.skeleton);
    const known = frame.places.get(places.join());
    if (known) known.shapes++;
    else frame.places.set(places.join(), { places, shapes: 1 });
  }

  /** Takes a shape out; nothing happens where it is not in. */
  remove(id: string): void {
    const shape = this.byId.get(id);
    if (!shape) return;
    this.byId.delete(id);
    const key = frameOf(shape.skeleton);
    const frame = this.frames.get(key);
    if (!frame) return;
    frame.shapes.delete(keyOf(shape.skeleton));
    const places = wordHoles(shape.skeleton).join();
    const known = frame.places.get(places);
    if (known && --known.shapes === 0) frame.places.delete(places);
    if (frame.shapes.size === 0) this.frames.delete(key);
  }
}

/** A skeleton as one text: no token holds the character between them. */
export function keyOf(skeleton: Skeleton): string {
  return skeleton.join('\u0000');
}

/** What of a skeleton is neither word nor value. */
export function frameOf(skeleton: Skeleton): string {
  return keyOf(skeleton.map((token) => (isHole(token) || isWord(token) ? valueHole : token)));
}

/** A skeleton in which some places are holes for words. */
export function withWordHoles(skeleton: Skeleton, places: readonly number[]): Skeleton {
  if (places.length === 0) return skeleton;
  const widened = [...skeleton];
  for (const place of places) widened[place] = wordHole;
  return widened;
}

function wordHoles(skeleton: Skeleton): readonly number[] {
  return skeleton.flatMap((token, place) => (token === wordHole ? [place] : []));
}
