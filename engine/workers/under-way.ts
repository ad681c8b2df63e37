/** How much is being done at this moment, for whoever gives way to it. */
export class UnderWay {
  private count = 0;
  private readonly waiting = new Set<() => void>();

  /** Counts as long as some work takes. */
  async while<Done>(work: Promise<Done>): Promise<Done> {
    this.count++;
    try {
      return await work;
    } finally {
      this.count--;
      if (this.count === 0) for (const resolve of this.waiting) resolve();
    }
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
