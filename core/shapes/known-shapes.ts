import type { DecidedShape } from './decided-shape.ts';
import { mostShapes } from './shape-families.ts';
import { otherShape } from './shape-id.ts';
import { ShapeIndex } from './shape-index.ts';
import type { Skeleton } from './token.ts';

/** Shapes as they were decided: found by their skeletons, and by the ids that they ever had. */
export class KnownShapes {
  private readonly index = new ShapeIndex();
  private readonly into = new Map<string, string>();
  /** Grows with each change that may give a skeleton another shape. */
  version = 0;

  /** Takes in decisions, the latest last. */
  learn(decided: Iterable<DecidedShape>): void {
    for (const { id, skeleton, into } of decided) {
      this.version++;
      if (skeleton.length > 0) this.index.put({ id, skeleton });
      else this.index.remove(id);
      if (into === undefined) this.into.delete(id);
      else this.into.set(id, into);
    }
  }

  /** Whether no more shapes are told apart. */
  get isFull(): boolean {
    return this.index.size >= mostShapes;
  }

  /** The id under which the shape of a skeleton goes now; undefined where nobody has decided about it. */
  find(skeleton: Skeleton): string | undefined {
    const shape = this.index.find(skeleton);
    return shape && this.current(shape.id);
  }

  /** The ids that stand for a part of a shape, by its own id. */
  mergedInto(id: string): readonly string[] {
    return [...this.into.keys()].filter((other) => this.current(other) === id);
  }

  /** Whether an id was decided about. */
  isDecided(id: string): boolean {
    return id === otherShape || this.into.has(id) || this.index.get(id) !== undefined;
  }

  /** The id under which a shape goes now. */
  readonly current = (id: string): string => {
    let now = id;
    // Shapes are merged into others again and again, never in a circle; a chain that is longer than this is a fault.
    for (let i = 0; i < 100; i++) {
      const into = this.into.get(now);
      if (into === undefined) return now;
      now = into;
    }
    return now;
  };
}
