/** Edits of one value that is kept elsewhere: one at a time, in the order in which they were made. */
export interface EditQueue<Edit> {
  /** Makes an edit after those before it. Rejects with what stood in its way; the edits after it are made all the same. */
  readonly make: (edit: Edit) => Promise<void>;
  /**
   * Makes an edit once typing rests: the last of a subject takes the place of the one that waits, and any other edit has the
   * waiting one made first. All that share a place share the promise.
   */
  readonly makeRested: (subject: string, edit: Edit) => Promise<void>;
  /** Resolves once all edits are made, the waiting one at once. Rejects when that one could not be made. */
  readonly settle: () => Promise<void>;
  /** Whether an edit waits or is being made: to leave now would lose it. */
  readonly isBusy: () => boolean;
}

interface Waiting<Edit> {
  readonly subject: string;
  readonly edit: Edit;
  readonly timer: ReturnType<typeof setTimeout>;
  /** Settles as the edit does that is made in the end. */
  readonly made: Promise<void>;
  readonly start: (edit: Edit) => void;
}

/** A queue over `apply`, which reads the value, edits it and stores it; `restTime` is how long typing rests, in milliseconds. */
export function editQueue<Edit>(apply: (edit: Edit) => Promise<void>, restTime: number): EditQueue<Edit> {
  let last: Promise<unknown> = Promise.resolve();
  let running = 0;
  let waiting: Waiting<Edit> | undefined;

  const run = (edit: Edit): Promise<void> => {
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
function begin<Edit>(run: (edit: Edit) => Promise<void>): Pick<Waiting<Edit>, 'made' | 'start'> {
  let start: (edit: Edit) => void = () => {};
  const made = new Promise<void>((resolve, reject) => {
    start = (edit) => run(edit).then(resolve, reject);
  });
  return { made, start };
}
