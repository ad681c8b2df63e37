import { hour } from '../events/time-units.ts';
import { addToFrequent, type FrequentSketch, mostFrequent, newFrequentSketch } from '../sketches/frequent.ts';

/** How long values that came count as much as twice what comes now, in milliseconds. */
const halfLife = 12 * hour;
/** A value takes the place of another one only where it came more often by this. */
const lead = 1.2;

/** What is known of the top of a key, as JSON. */
export interface SavedTop {
  readonly values: readonly string[];
  readonly counts: readonly (readonly [string, number])[];
  /** When it was chosen, in milliseconds. */
  readonly at: number;
}

/**
 * The values of a key that have series of their own: those that came most in the last day or so. Chosen anew every hour;
 * a value that is there gives way only to one that clearly comes more, so that series do not flicker.
 */
export class KeyTop {
  private values: Set<string>;
  private sketch: FrequentSketch;
  private at: number;

  constructor(
    readonly most: number,
    saved: SavedTop | undefined,
    now: number,
  ) {
    this.values = new Set(saved?.values.slice(0, most));
    this.sketch = newFrequentSketch(Math.max(200, most * 10));
    for (const [value, count] of saved?.counts ?? []) addToFrequent(this.sketch, value, count);
    this.at = saved?.at ?? now;
  }

  /** Counts a value. */
  add(value: string, events: number): void {
    addToFrequent(this.sketch, value, events);
  }

  /** Chooses anew when it is time, and fills what is free. Returns whether anything is otherwise. */
  choose(now: number): boolean {
    const isDue = now - this.at >= hour;
    if (!isDue && this.values.size >= this.most) return false;
    const before = this.values;
    const ranked = mostFrequent(this.sketch, this.most * 2).map(({ value, count }) => ({
      value,
      count: before.has(value) ? count * lead : count,
    }));
    const chosen = isDue
      ? ranked
          .sort((a, b) => b.count - a.count)
          .slice(0, this.most)
          .map(({ value }) => value)
      : [...before, ...ranked.map(({ value }) => value).filter((value) => !before.has(value))].slice(0, this.most);
    this.values = new Set(chosen);
    if (isDue) this.age(now);
    return isDue || chosen.length !== before.size;
  }

  /** Whether a value has series of its own. */
  has(value: string): boolean {
    return this.values.has(value);
  }

  save(): SavedTop {
    return {
      values: [...this.values],
      counts: mostFrequent(this.sketch, this.sketch.most).map(({ value, count }) => [value, count]),
      at: this.at,
    };
  }

  private age(now: number): void {
    const left = 0.5 ** ((now - this.at) / halfLife);
    const { counts, most } = this.sketch;
    this.sketch = newFrequentSketch(most);
    for (const [value, count] of counts) addToFrequent(this.sketch, value, count * left);
    this.at = now;
  }
}
