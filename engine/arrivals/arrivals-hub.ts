import type { ArrivalsFrame } from '#core/answers/arrivals.ts';
import type { ArrivedLine } from '#core/arrivals/arrived-line.ts';
import type { ViewDelta } from '#core/arrivals/view-accumulator.ts';
import { compileCondition } from '#core/conditions/condition.ts';
import type { ArrivalDeltas } from '#core/consumers/arrivals.ts';
import { severityClasses } from '#core/events/severity.ts';

/** Between two frames, in milliseconds. */
const frameTime = 250;
/** Most lines of a view in a frame. */
const mostLines = 25;
/** Most views that are open at a time, over all who watch. */
export const mostViews = 40;

/** A line that may be shown, and how many events it stands for. */
interface Candidate {
  readonly line: ArrivedLine;
  /** Decides which ones stay: the greater the likelier, by how many each stands for. */
  readonly rank: number;
}

interface OpenView {
  readonly id: number;
  readonly condition: string;
  matched: number;
  severities: number[];
  candidates: Candidate[];
}

/**
 * Who watches what comes in at this engine. Groups of deliveries tell it what they brought; each who watches gets it in
 * frames, as fast as they take them and never more than some lines a frame: nothing waits in line.
 */
export class ArrivalsHub {
  private readonly open = new Map<number, OpenView>();
  private last = 0;
  private lookedAt = 1;

  constructor(private readonly engine: string) {}

  /** The open views. */
  views(): readonly { readonly id: number; readonly condition: string }[] {
    return [...this.open.values()].map(({ id, condition }) => ({ id, condition }));
  }

  /** Whether so many more views may be opened. */
  hasRoomFor(count: number): boolean {
    return this.open.size + count <= mostViews;
  }

  /** Takes in what a group brought. */
  tell({ views, lookedAt }: ArrivalDeltas): void {
    this.lookedAt = lookedAt;
    for (const delta of views) {
      const view = this.open.get(delta.view);
      if (view) take(view, delta);
    }
  }

  /**
   * Opens views, one for each condition, and gives a frame four times a second until `signal` aborts; then they are closed.
   * Throws on a condition that is wrong.
   */
  async *frames(conditions: readonly string[], signal: AbortSignal): AsyncGenerator<ArrivalsFrame> {
    const views = conditions.map((condition): OpenView => {
      const compiled = compileCondition(condition);
      if (!compiled.ok) throw new Error(compiled.problem.message);
      return { id: ++this.last, condition, ...nothing() };
    });
    for (const view of views) this.open.set(view.id, view);
    try {
      let before = performance.now();
      while (!signal.aborted) {
        const now = performance.now();
        yield { engine: this.engine, span: now - before, lookedAt: this.lookedAt, views: views.map(emptied) };
        before = now;
        await pause(frameTime, signal);
      }
    } finally {
      for (const { id } of views) this.open.delete(id);
      if (this.open.size === 0) this.lookedAt = 1;
    }
  }
}

function nothing(): Omit<OpenView, 'id' | 'condition'> {
  return { matched: 0, severities: new Array<number>(severityClasses).fill(0), candidates: [] };
}

/**
 * Adds what a group reported. Of the lines those with the greatest ranks stay, which makes a sample by what each stands for
 * (P. Efraimidis and P. Spirakis, “Weighted random sampling with a reservoir”, 2006).
 */
function take(view: OpenView, { matched, severities, lines }: ViewDelta): void {
  view.matched += matched;
  view.severities = view.severities.map((sum, i) => sum + (severities[i] ?? 0));
  const standsFor = Math.max(1, matched / lines.length);
  for (const line of lines) view.candidates.push({ line, rank: Math.random() ** (1 / standsFor) });
  if (view.candidates.length <= mostLines) return;
  view.candidates.sort((a, b) => b.rank - a.rank);
  view.candidates.length = mostLines;
}

/** What a view has gathered; afterwards it has nothing. */
function emptied(view: OpenView): ArrivalsFrame['views'][number] {
  const { matched, severities, candidates } = view;
  Object.assign(view, nothing());
  const lines = candidates.map(({ line }) => line).sort((a, b) => a.received - b.received);
  return { matched, severities, lines };
}

function pause(time: number, signal: AbortSignal): Promise<void> {
  return new Promise((resolve) => {
    const end = (): void => {
      clearTimeout(timer);
      signal.removeEventListener('abort', end);
      resolve();
    };
    const timer = setTimeout(end, time);
    signal.addEventListener('abort', end);
  });
}
