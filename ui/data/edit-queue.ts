/** Edits of one held value: one at a time, in the order in which they were made, each on what the one before left. */
export interface EditQueue<Value> {
  /** Makes an edit after those before it. Rejects with what stood in its way; the edits after it are made all the same. */
  readonly make: (edit: Edit<Value>) => Promise<void>;
  /**
   * Makes an edit once typing rests: the last of a subject takes the place of the one that waits, and any other edit has the
   * waiting one made first. All that share a place share the promise.
   */
  readonly makeRested: (subject: string, edit: Edit<Value>) => Promise<void>;
  /** Resolves once all edits are made, the waiting one at once. Rejects when that one could not be made. */
  readonly settle: () => Promise<void>;
  /** Whether an edit waits or is being made: to leave now would lose it. */
  readonly isBusy: () => boolean;
}

/** What the value becomes. */
export type Edit<Value> = (before: Value) => Value;

interface Waiting<Value> {
  readonly subject: string;
  readonly edit: Edit<Value>;
  readonly timer: ReturnType<typeof setTimeout>;
  /** Settles as the edit does that is made in the end. */
  readonly made: Promise<void>;
  readonly start: (edit: Edit<Value>) => void;
}

/** A queue over `apply`, which reads the value, edits it and stores it; `restTime` is how long typing rests, in milliseconds. */
export function editQueue<Value>(apply: (edit: Edit<Value>) => Promise<void>, restTime: number): EditQueue<Value> {
  let last: Promise<unknown> = Promise.resolve();
  let running = 0;
  let waiting: Waiting<Value> | undefined;

  const run = (edit: Edit<Value>): Promise<void> => {
    running++;
    const made = last
      .then(() => apply(edit))
      .finally(() => {
        running--;
      });
    last = made.catch(() => {});
    return made;
  };

  const flush = (): Promise<void> => {
    if (!waiting) return Promise.resolve();
    const { edit, start, made, timer } = waiting;
    clearTimeout(timer);
    waiting = undefined;
    start(edit);
    return made;
  };

  return {
    make(edit) {
      void flush();
      return run(edit);
    },
    makeRested(subject, edit) {
      if (waiting && waiting.subject !== subject) void flush();
      if (waiting) clearTimeout(waiting.timer);
      const timer = setTimeout(() => void flush(), restTime);
      waiting = { ...(waiting ?? begin(run)), subject, edit, timer };
      return waiting.made;
    },
    async settle() {
      await flush();
      await last;
    },
    isBusy: () => waiting !== undefined || running > 0,
  };
}

/** An edit that is to be made later, whichever it will be then. */
function begin<Value>(run: (edit: Edit<Value>) => Promise<void>): Pick<Waiting<Value>, 'made' | 'start'> {
  let start: (edit: Edit<Value>) => void = () => {};
  const made = new Promise<void>((resolve, reject) => {
    start = (edit) => run(edit).then(resolve, reject);
  });
  return { made, start };
}
