const nodeAt = 0;
const silentAt = 1;

/**
 * What is known of the store at this moment, for all threads of an engine: which of its nodes is asked, counted from 0, and whether it is
 * silent, so that nothing is asked of it.
 */
export class StoreStatus {
  private readonly values: Int32Array;

  /** With what another thread's was made of, it says the same. */
  constructor(readonly shared: SharedArrayBuffer = new SharedArrayBuffer(8)) {
    this.values = new Int32Array(shared);
  }

  get node(): number {
    return Atomics.load(this.values, nodeAt);
  }

  set node(node: number) {
    Atomics.store(this.values, nodeAt, node);
  }

  get isSilent(): boolean {
    return Atomics.load(this.values, silentAt) === 1;
  }

  set isSilent(isSilent: boolean) {
    Atomics.store(this.values, silentAt, isSilent ? 1 : 0);
  }
}
