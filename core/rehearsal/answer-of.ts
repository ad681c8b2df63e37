import type { PlanDocument } from '../plan/document.ts';
import { comparedParts } from '../plan/parts/rehearsed-parts.ts';
import type { PlanProblem } from '../plan/plan-problem.ts';
import type { Volume } from '../routing/volume.ts';
import { grouped } from '../tables/grouped.ts';
import { bandsOf } from './bands.ts';
import { type CapMeeting, type CapMeetings, capMeetings } from './cap-meetings.ts';
import { fieldChanges } from './field-changes.ts';
import { type Move, movesOf, withoutShapes } from './moves.ts';
import { changedReaders, type EventReader } from './reader-finds.ts';
import { noRecentDays, type RecentDays, type SourceDays } from './recent-days.ts';
import { findingsForm, type RehearsalFindings, type RehearsalRow, type RehearsalSource } from './rehearsal-answer.ts';
import type { PlanEffect, Rehearsal } from './rehearse.ts';
import { addedVolume, type StoreRoom } from './rehearsed-surge.ts';
import type { SurgeChoice } from './surge.ts';
import { isKept, isNowhere, type Place } from './transitions.ts';

/** What an answer is computed from besides the rehearsed events. */
export interface RehearsalBasis {
  /** Days over which volumes are means; 0: the volumes of the window as it was. */
  readonly span: number;
  readonly recent: RecentDays;
  readonly owners: Readonly<Record<string, string>>;
  /** An example line of a shape. */
  readonly lineOf: (shape: string) => string;
  /** The rehearsed readers, in the order of their finds. */
  readonly readers: readonly EventReader[];
  /** Tests of pipelines that the draft fails. */
  readonly failedTests?: readonly PlanProblem[];
  /** The plans, for their caps; absent: no caps are reported. */
  readonly plans?: { readonly live: PlanDocument; readonly draft: PlanDocument };
  readonly surge?: SurgeChoice | undefined;
  /** The store, for what a surge adds to it. */
  readonly room?: StoreRoom;
}

/** For events that arrive once, such as rejects. */
const once: RehearsalBasis = {
  span: 0,
  recent: noRecentDays,
  owners: {},
  lineOf: () => '',
  readers: [],
};

const unknownRoom: StoreRoom = { shareStored: () => 0, free: null };

/** The most shapes in an answer. */
const mostShapes = 30;
/** Smaller changes, as a part of all arriving bytes, are omitted. */
const leastChange = 0.000_1;

/** The findings of a rehearsal over a window; `started` is when it began, by the performance clock. */
export function answerOf(
  merged: Rehearsal,
  window: { readonly from: number; readonly to: number },
  started: number,
  {
    span: wanted,
    recent,
    owners,
    lineOf,
    readers,
    failedTests = [],
    plans,
    surge,
    room = unknownRoom,
  }: RehearsalBasis = once,
): RehearsalFindings {
  // A young installation may have fewer days.
  const span = wanted > 1 ? Math.max(1, Math.min(wanted, recent.count)) : wanted;
  // For a single day, the tape's own volume is used.
  const all = movesOf(merged.transitions, recent, span > 1 ? span : 0);
  const moves = withoutShapes(all);
  const rowsOf = (of: (move: Move, place: Place) => string | undefined, list = moves): readonly RehearsalRow[] =>
    rowsBy(list, of, span);
  const arrived = volumeOf(moves, 'live', () => true);
  const caps = (withExtra: boolean): CapMeetings => {
    const of = (which: 'live' | 'draft'): readonly CapMeeting[] =>
      plans && span > 0 ? capMeetings(plans[which], moves, which, window, withExtra) : [];
    return { live: of('live'), draft: of('draft') };
  };
  const changed = ({ live, draft }: RehearsalRow): boolean =>
    Math.abs(draft.bytes - live.bytes) > leastChange * arrived.bytes;
  // Most shapes do not change.
  const changing = new Set(all.filter(({ live, draft }) => isKept(live) !== isKept(draft)).map(({ shape }) => shape));
  const ofChanging = all.filter(({ shape }) => shape !== '' && changing.has(shape));
  const shapes = byChange(rowsOf(({ shape }, place) => (isKept(place) ? shape : undefined), ofChanging))
    .filter(changed)
    .slice(0, mostShapes);
  const shown = new Set(shapes.map(({ id }) => id));
  return {
    form: findingsForm,
    at: Date.now(),
    taped: merged.taped,
    arrived,
    ...window,
    span,
    days: recent.count,
    leftOut: span > 1 ? withoutTape(moves, recent, span) : [],
    tiers: rowsOf((_, place) => (isKept(place) ? place[1] : undefined)),
    outcomes: rowsOf((_, [outcome]) => outcome),
    rules: rowsOf((_, place) => ruleOf(place)),
    sources: sourceRows(moves, span),
    teams: byChange(rowsOf(({ source }, place) => (isKept(place) ? owners[source] || undefined : undefined))).filter(
      changed,
    ),
    shapes: shapes.map((row) => ({ ...row, line: lineOf(row.id) })),
    moves,
    shapeMoves: all.filter(({ shape }) => shown.has(shape)),
    owners,
    parsed: { live: parsedShare(moves, 'live'), draft: parsedShare(moves, 'draft') },
    kept: rowsOf((_, place) => (isKept(place) ? '' : undefined))[0] ?? nothing,
    failures: { live: topFailures(merged.live), draft: topFailures(merged.draft) },
    readers: changedReaders(readers, merged.live.finds, merged.draft.finds),
    failedTests,
    fields: fieldChanges(merged.live.fields, merged.draft.fields, arrived.events),
    changed: [...merged.changed.values()].flat(),
    caps: caps(false),
    surge: surge ? { ...surge, ...addedVolume(moves, room), caps: caps(true) } : null,
    ...comparedParts(merged.live.parts, merged.draft.parts, (window.to - window.from) / 1_000),
    tookMs: Math.round(performance.now() - started),
  };
}

const nothing: Omit<RehearsalRow, 'id'> = {
  live: { events: 0, bytes: 0 },
  draft: { events: 0, bytes: 0 },
  bands: { draft: 0, change: 0 },
  eventBands: { draft: 0, change: 0 },
};

function ruleOf([outcome, tier, rule]: Place): string | undefined {
  if (outcome === 'kept' || rule === '') return undefined;
  return tier === '' ? rule : `${tier}/${rule}`;
}

function withoutTape(moves: readonly Move[], { sources }: RecentDays, span: number): readonly string[] {
  const taped = new Set(moves.map(({ source }) => source));
  const came = ({ all }: SourceDays): boolean => all.bytes.slice(-span).some((bytes) => bytes > 0);
  return [...sources].flatMap(([source, days]) => (!taped.has(source) && came(days) ? [source] : [])).sort();
}

/** A row for each id, with the volume that each plan sends there. */
function rowsBy(
  moves: readonly Move[],
  idOf: (move: Move, place: Place) => string | undefined,
  span: number,
): readonly RehearsalRow[] {
  const rows = new Map<string, Move[]>();
  for (const move of moves)
    for (const id of new Set([placed(move, 'live', idOf), placed(move, 'draft', idOf)])) {
      if (id === undefined) continue;
      const known = rows.get(id);
      if (known) known.push(move);
      else rows.set(id, [move]);
    }
  return [...rows].map(([id, list]) => {
    const goes = (of: 'live' | 'draft') => (move: Move) => placed(move, of, idOf) === id;
    const bytes = (of: 'live' | 'draft') => (move: Move) => Number(goes(of)(move));
    // Events of a move are about as long as each other: their number varies as its bytes do.
    const events = (of: 'live' | 'draft') => (move: Move) =>
      goes(of)(move) && move.bytes > 0 ? move.events / move.bytes : 0;
    return {
      id,
      live: volumeOf(list, 'live', goes('live')),
      draft: volumeOf(list, 'draft', goes('draft')),
      bands: bandsOf(list, bytes('live'), bytes('draft'), span),
      eventBands: bandsOf(list, events('live'), events('draft'), span),
    };
  });
}

function placed(
  move: Move,
  of: 'live' | 'draft',
  idOf: (move: Move, place: Place) => string | undefined,
): string | undefined {
  return isNowhere(move[of]) ? undefined : idOf(move, move[of]);
}

function volumeOf(moves: readonly Move[], of: 'live' | 'draft', isCounted: (move: Move) => boolean): Volume {
  const sum = { events: 0, bytes: 0 };
  for (const move of moves) {
    if (isNowhere(move[of]) || !isCounted(move)) continue;
    sum.events += move.events;
    sum.bytes += move.bytes;
  }
  return sum;
}

function parsedShare(moves: readonly Move[], of: 'live' | 'draft'): number {
  const { events } = volumeOf(moves, of, () => true);
  return events > 0 ? volumeOf(moves, of, (move) => move[of][3]).events / events : 0;
}

function byChange(rows: readonly RehearsalRow[]): readonly RehearsalRow[] {
  const change = ({ live, draft }: RehearsalRow): number => Math.abs(draft.bytes - live.bytes);
  return [...rows].sort((a, b) => change(b) - change(a));
}

function sourceRows(moves: readonly Move[], span: number): readonly RehearsalSource[] {
  const kept = new Map(
    rowsBy(moves, ({ source }, place) => (isKept(place) ? source : undefined), span).map((row) => [row.id, row]),
  );
  return [...grouped(moves, ({ source }) => source)].map(([id, ofSource]) => ({
    ...{ id, ...(kept.get(id) ?? nothing) },
    liveParsed: parsedShare(ofSource, 'live'),
    draftParsed: parsedShare(ofSource, 'draft'),
  }));
}

function topFailures(effect: PlanEffect): readonly [string, number][] {
  return [...effect.failures].sort((a, b) => b[1] - a[1]).slice(0, 20);
}
