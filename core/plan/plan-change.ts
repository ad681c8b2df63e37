/** One readable change between two plans. */
export interface PlanChange {
  readonly kind: 'added' | 'removed' | 'changed' | 'moved';
  /** The thing that it is about, as a path in the plan. */
  readonly path: string;
  /** What changed, as a sentence without a full stop. */
  readonly text: string;
  readonly before?: string;
  readonly after?: string;
}

interface Titled {
  readonly id: string;
  readonly title: string;
}

/**
 * Changes of a list of things with ids: what was taken out, what is new, and another order; `inside` tells what changed within
 * a thing that both lists have.
 */
export function diffList<Thing extends Titled>(
  before: readonly Thing[],
  after: readonly Thing[],
  { path, noun }: { readonly path: string; readonly noun: string },
  inside: (before: Thing, after: Thing, path: string) => readonly PlanChange[],
): readonly PlanChange[] {
  const changes: PlanChange[] = [];
  for (const item of before) {
    if (!after.some((other) => other.id === item.id)) {
      changes.push({ kind: 'removed', path: `${path}.${item.id}`, text: `${noun} “${item.title}” is taken out` });
    }
  }
  const kept = before.filter((item) => after.some((other) => other.id === item.id)).map((item) => item.id);
  const order = after.filter((item) => kept.includes(item.id)).map((item) => item.id);
  for (const item of after) {
    const old = before.find((other) => other.id === item.id);
    if (!old) changes.push({ kind: 'added', path: `${path}.${item.id}`, text: `${noun} “${item.title}” is new` });
    else changes.push(...inside(old, item, `${path}.${item.id}`));
  }
  if (kept.join() !== order.join()) {
    changes.push({
      kind: 'moved',
      path,
      text: `the order of ${noun}s is now ${after.map((item) => item.title).join(', ')}`,
    });
  }
  return changes;
}

/** A change of a text; none where it is the same. */
export function changed(path: string, text: string, before = '', after = ''): readonly PlanChange[] {
  return before === after ? [] : [{ kind: 'changed', path, text, before, after }];
}
