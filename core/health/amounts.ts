/**
 * Events and bytes of many that are counted, each by its place (from 0). They lie side by side, so that what comes for one
 * after the other is added in a small stretch of memory; places that were never added to hold 0.
 */
export class Amounts {
  private values = new Float64Array(0);

  add(place: number, events: number, bytes: number): void {
    const at = 2 * place;
    if (at >= this.values.length) this.grow(at + 2);
    this.values[at] = (this.values[at] as number) + events;
    this.values[at + 1] = (this.values[at + 1] as number) + bytes;
  }

  /** What was added for a place. */
  of(place: number): { readonly events: number; readonly bytes: number } {
    return { events: this.values[2 * place] ?? 0, bytes: this.values[2 * place + 1] ?? 0 };
  }

  /** The places for which events were added. */
  *places(): Iterable<number> {
    for (let at = 0; at < this.values.length; at += 2) if (this.values[at] !== 0) yield at / 2;
  }

  clear(): void {
    this.values.fill(0);
  }

  private grow(length: number): void {
    const grown = new Float64Array(Math.max(length, this.values.length * 2, 64));
    grown.set(this.values);
    this.values = grown;
  }
}
