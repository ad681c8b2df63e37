import { LRUCache } from 'lru-cache';
import { encode, hashBytes } from '../events/text-table.ts';
import { day, minute } from '../events/time-units.ts';
import { entryOf } from '../tables/entry-of.ts';
import type { QuestionUse, Reading, ThingUse, Use, UseCount, UsedKind } from './usage.ts';
import { widened } from './widened.ts';

/**
 * Most things and questions that are counted apart on a day. Further questions are counted without the values that they ask for
 * (see {@link widened}), and beyond that, as further things, under an empty name.
 */
const mostThings = 20_000;
const mostQuestions = 200;
const mostWidened = 400;
/** Longer conditions are widened (characters). */
const longestCondition = 2_000;
/** Longer names are no names of things. */
const longestName = 256;
/** The same question counts once in this time, because screens refresh their answers (milliseconds). */
const sameWithin = minute;

/** What was read, by thing and by question. */
export interface Usage {
  readonly things: readonly ThingUse[];
  readonly questions: readonly QuestionUse[];
}

/** Counts what is read. Memory is bounded. */
export class UsageCounts {
  private readonly things = new Map<string, ThingUse>();
  private readonly questions = new Map<string, QuestionUse>();
  private readonly asked = new LRUCache<string, number>({ max: 2_000 });
  /** Hashes of the things and questions of a day. */
  private today = { day: 0, things: new Set<number>(), questions: new Set<number>() };

  get isEmpty(): boolean {
    return this.things.size === 0 && this.questions.size === 0;
  }

  /** Counts a question at a time (milliseconds). */
  add({ reading, condition, things, oldestAge }: Use, now: number): void {
    const date = Math.floor(now / day);
    if (this.today.day !== date) this.today = { day: date, things: new Set(), questions: new Set() };
    const times = this.isNew(`${reading} ${condition} ${[...(things.metric ?? [])]}`, now) ? 1 : 0;
    // Browsing everything is no sign that somebody needs a thing; exporting everything is.
    if (condition !== '' || reading === 'export') this.count(this.question(reading, condition), times, oldestAge, now);
    for (const [kind, names] of Object.entries(things) as [UsedKind, Iterable<string>][])
      for (const name of names)
        if (name !== '' && name.length <= longestName)
          this.count(this.thing(kind, name, reading), times, oldestAge, now);
  }

  /** All that was counted; the counts begin anew. */
  take(): Usage {
    // In one order, so that engines that save at the same time wait for each other instead of colliding.
    const taken = { things: inOrder(this.things), questions: inOrder(this.questions) };
    this.things.clear();
    this.questions.clear();
    return taken;
  }

  /** Counts again what was taken and could not be saved. */
  putBack({ things, questions }: Usage): void {
    for (const { kind, name, reading, ...use } of things)
      this.count(this.thing(kind, name, reading), use.times, use.oldestAge, use.lastAt);
    for (const { reading, condition, ...use } of questions)
      this.count(this.question(reading, condition), use.times, use.oldestAge, use.lastAt);
  }

  private count(use: UseCount, times: number, oldestAge: number, now: number): void {
    use.times += times;
    use.lastAt = Math.max(use.lastAt, now);
    use.oldestAge = Math.max(use.oldestAge, oldestAge);
  }

  /** Whether a question was not asked just now. */
  private isNew(question: string, now: number): boolean {
    const before = this.asked.get(question) ?? 0;
    if (now - before < sameWithin) return false;
    this.asked.set(question, now);
    return true;
  }

  private question(reading: Reading, wanted: string): QuestionUse {
    const condition = this.countable(wanted);
    return entryOf(this.questions, `${reading} ${condition}`, () => ({ reading, condition, ...unused }));
  }

  /** A condition that is counted instead of another one: the same, a wider one, or that for everything. */
  private countable(condition: string): string {
    const { questions } = this.today;
    if (isShort(condition) && isAmong(questions, condition, mostQuestions)) return condition;
    const wide = widened(condition);
    return isShort(wide) && isAmong(questions, wide, mostWidened) ? wide : '';
  }

  private thing(kind: UsedKind, wanted: string, reading: Reading): ThingUse {
    const name = isAmong(this.today.things, `${kind} ${wanted}`, mostThings) ? wanted : '';
    return entryOf(this.things, `${kind} ${name} ${reading}`, () => ({ kind, name, reading, ...unused }));
  }
}

function isShort(condition: string): boolean {
  return condition.length <= longestCondition;
}

/** Whether a text is in a set of hashes, or can be added to it. */
function isAmong(hashes: Set<number>, text: string, most: number): boolean {
  const bytes = encode(text);
  const hash = hashBytes(bytes, 0, bytes.length);
  if (hashes.has(hash)) return true;
  if (hashes.size >= most) return false;
  hashes.add(hash);
  return true;
}

const unused: UseCount = { times: 0, lastAt: 0, oldestAge: 0 };

function inOrder<Entry>(map: ReadonlyMap<string, Entry>): readonly Entry[] {
  return [...map].sort(([a], [b]) => (a < b ? -1 : 1)).map(([, entry]) => entry);
}
