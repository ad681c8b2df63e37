/** How much is being done at this moment, for whoever gives way to it. */
export class UnderWay {
  /** Whether anything was done since it was {@link forget}. */
  hasBegun = false;
  private count = 0;
  private endedAt = performance.now();
  private readonly waiting = new Set<() => void>();

  /** Counts as long as some work takes. */
  async while<Done>(work: Promise<Done>): Promise<Done> {
    this.count++;
    this.hasBegun = true;
    try {
      return await work;
    } finally {
      this.count--;
      this.endedAt = performance.now();
      if (this.count === 0) for (const resolve of this.waiting) resolve();
    }
  }

  /** For how long nothing has been done, in milliseconds. */
  get idleFor(): number {
    return this.count > 0 ? 0 : performance.now() - this.endedAt;
  }

  /** Begins anew: nothing has been done. */
  forget(): void {
    this.hasBegun = false;
  }

  /** Resolves when nothing is being done, or after `patience` milliseconds. */
  async quiet(patience: number): Promise<void> {
    if (this.count === 0) return;
    await new Promise<void>((resolve) => {
      const done = (): void => {
        clearTimeout(timer);
        this.waiting.delete(done);
        resolve();
      };
      const timer = setTimeout(done, patience);
      this.waiting.add(done);
    });
  }
}
