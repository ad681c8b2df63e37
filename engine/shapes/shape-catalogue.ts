import { KnownShapes } from '#core/shapes/known-shapes.ts';
import type { Database } from '#store/database.ts';
import { type StoredShape, shapesSince } from '#store/events/shapes.ts';

/** What this engine knows of shapes, whichever engine decided about them. */
export class ShapeCatalogue {
  readonly known = new KnownShapes();
  /** The version of the latest decision that is known. */
  version = 0;
  /** Decisions are known up to this version, also where the latest concern shapes that are gone. */
  private knownUpTo = 0;
  private readonly facts = new Map<string, StoredShape>();
  private reading: Promise<void> = Promise.resolve();

  constructor(private readonly database: Database) {}

  /** Reads what was decided since the last time. */
  refresh(): Promise<void> {
    this.reading = this.reading
      .catch(() => {})
      .then(async () => {
        const decided = await shapesSince(this.database.db, this.version);
        this.known.learn(decided);
        for (const shape of decided) {
          if (shape.into === undefined) this.facts.set(shape.id, shape);
          else this.facts.delete(shape.id);
          this.version = shape.version;
        }
      });
    return this.reading;
  }

  /** Reads what was decided, where the latest decision has another version than those that are known. */
  async follow(version: number): Promise<void> {
    if (version <= Math.max(this.version, this.knownUpTo)) return;
    await this.refresh();
    this.knownUpTo = version;
  }

  /** What is known of a shape, by any id that it ever had. */
  get(id: string): StoredShape | undefined {
    return this.facts.get(this.known.current(id));
  }

  /** All ids that ever stood for what a shape is now, its own first. */
  idsOf(id: string): readonly string[] {
    const current = this.known.current(id);
    return [current, ...this.known.mergedInto(current)];
  }
}
