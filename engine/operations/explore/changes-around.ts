import type { WhyBeside } from '#core/answers/why.ts';
import { minute } from '#core/events/time-units.ts';
import { shapesFirstSeen } from '#store/events/shapes.ts';
import { auditBetween } from '#store/people/audit.ts';
import { revisionsBetween } from '#store/plan/plans.ts';
import { driftsBetween } from '#store/sources/drifts.ts';
import type { OperationServices } from '../services.ts';

/** How far from a change other changes are of interest, and most of each kind. */
const reach = 30 * minute;
const most = 20;

/** What else changed at about a time (milliseconds), by what is recorded: the earliest first. */
export async function changesAround({ database }: OperationServices, at: number): Promise<readonly WhyBeside[]> {
  const stretch = { from: at - reach, to: at + reach };
  const [drifts, shapes, revisions, changes] = await Promise.all([
    driftsBetween(database, stretch, most),
    shapesFirstSeen(database.db, stretch, most),
    revisionsBetween(database.db, stretch, most),
    auditBetween(database, stretch, most),
  ]);
  return [
    ...drifts.map(({ source, text, since }) => ({ at: since, text: `${source}: ${text}`, shows: sourceAt(source) })),
    ...shapes.map(({ id, source, sample, firstSeen }) => ({
      at: firstSeen,
      text: `First line of a new shape of ${source}: ${sample.slice(0, longestSample)}`,
      shows: `/explore?view=shapes&shape=${id}`,
    })),
    ...revisions.map(({ number, note, publishedAt }) => ({
      at: publishedAt,
      text: `Revision ${number} was published: ${note}`,
      shows: '/changes',
    })),
    ...changes
      .filter(({ command }) => tells.has(command))
      .map(({ at: when, command, subject }) => ({
        at: when,
        text: `${tells.get(command)} ${subject}`,
        shows: '/changes',
      })),
  ].sort((a, b) => a.at - b.at);
}

const longestSample = 120;

/** Changes by people that can move figures, by their command, in words before what was changed. */
const tells: ReadonlyMap<string, string> = new Map([
  ['PUT /api/postures/{id}', 'Switched:'],
  ['PUT /api/exclusions/{tier}/{exclusion}', 'An exclusion was overridden:'],
  ['POST /api/maintenance', 'Maintenance was announced:'],
  ['POST /api/sources', 'A source was made:'],
  ['DELETE /api/sources/{name}', 'A source was removed:'],
]);

function sourceAt(source: string): string {
  return `/sources/${encodeURIComponent(source)}`;
}
