/** The kinds of things whose use is recorded. */
export const usedKinds = ['source', 'tier', 'shape', 'field', 'metric'] as const;

export type UsedKind = (typeof usedKinds)[number];

/** The ways in which something is read. */
export const readings = ['search', 'summary', 'export', 'why', 'metric'] as const;

export type Reading = (typeof readings)[number];

/** One question that somebody asked, and what its answer was made of. */
export interface Use {
  readonly reading: Reading;
  /** The condition of the question; empty for everything. */
  readonly condition: string;
  /** The things that were read, by kind. */
  readonly things: Readonly<Partial<Record<UsedKind, Iterable<string>>>>;
  /** The age of the oldest event that was used, in milliseconds. */
  readonly oldestAge: number;
}

/** How often something was read. */
export interface UseCount {
  times: number;
  /** When it was read last (milliseconds). */
  lastAt: number;
  /** The age of the oldest event that was used, in milliseconds. */
  oldestAge: number;
}

/** How often a thing was read in one way. The empty name stands for things beyond the limit. */
export interface ThingUse extends UseCount {
  readonly kind: UsedKind;
  readonly name: string;
  readonly reading: Reading;
}

/** How often a question was asked. The empty condition stands for everything, and for questions beyond the limit. */
export interface QuestionUse extends UseCount {
  readonly reading: Reading;
  readonly condition: string;
}

/** For how many days usage is kept and looked at. */
export const usageDays = 30;
