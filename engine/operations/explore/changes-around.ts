import type { NearbyChange } from '#core/answers/why.ts';
import { minute } from '#core/events/time-units.ts';
import { operations } from '#core/operations/index.ts';
import { shapesFirstSeen } from '#store/events/shapes.ts';
import { auditBetween } from '#store/people/audit.ts';
import { revisionsBetween } from '#store/plan/plans.ts';
import { driftsBetween } from '#store/sources/drifts.ts';
import type { OperationServices } from '../services.ts';

/** How far before and after a change, and most changes of each kind. */
const reach = 30 * minute;
const most = 20;

/** Recorded changes near a time (milliseconds), earliest first. */
export async function changesAround({ database }: OperationServices, at: number): Promise<readonly NearbyChange[]> {
  const stretch = { from: at - reach, to: at + reach };
  const [drifts, shapes, revisions, changes] = await Promise.all([
    driftsBetween(database, stretch, most),
    shapesFirstSeen(database.db, stretch, most),
    revisionsBetween(database.db, stretch, most),
    auditBetween(database, stretch, most),
  ]);
  return [
    ...drifts.map(({ source, text, since }) => ({ at: since, text: `${source}: ${text}`, link: sourceAt(source) })),
    ...shapes.map(({ id, source, sample, firstSeen }) => ({
      at: firstSeen,
      text: `New shape in ${source}: ${sample.slice(0, longestSample)}`,
      link: `/explore?view=shapes&shape=${id}`,
    })),
    ...revisions.map(({ number, note, publishedAt }) => ({
      at: publishedAt,
      text: `Revision ${number} published: ${note}`,
      link: '/changes',
    })),
    ...changes
      .filter(({ command }) => commandsInWords.has(command))
      .map(({ at: when, command, subject }) => ({
        at: when,
        text: `${commandsInWords.get(command)} ${subject}`,
        link: '/changes',
      })),
  ].sort((a, b) => a.at - b.at);
}

const longestSample = 120;

/** Commands that can change figures, as the audit names them, with what to say before their subject. */
const commandsInWords: ReadonlyMap<string, string> = new Map(
  (
    [
      [operations.switchPosture, 'Posture switched:'],
      [operations.switchExclusion, 'Exclusion overridden:'],
      [operations.restoreExclusion, 'Exclusion restored:'],
      [operations.announceMaintenance, 'Maintenance announced:'],
      [operations.makeSource, 'Source created:'],
      [operations.removeSource, 'Source removed:'],
    ] as const
  ).map(([{ method, path }, words]) => [`${method} ${path}`, words]),
);

function sourceAt(source: string): string {
  return `/sources/${encodeURIComponent(source)}`;
}
