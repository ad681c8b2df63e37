import { awayUntil } from '#core/health/away.ts';
import { silentGroups } from '#core/health/common-cause.ts';
import { causeMembers } from '#core/health/emitters.ts';
import { labelsOf } from '#core/health/fleets.ts';
import type { HealthAnswer } from '#core/health/views.ts';
import type { Source } from '#store/sources/sources.ts';
import type { HealthRegistry } from '../../health/registry.ts';
import type { SourceDirectory } from '../../sources/source-directory.ts';

/** Judges sources and emitters at `now` (milliseconds): all, or those of one source. */
export function healthAnswer(
  health: HealthRegistry,
  directory: SourceDirectory,
  now: number,
  source?: string,
): HealthAnswer {
  const labels = (name: string): Readonly<Record<string, string>> => {
    const known: Source | undefined = directory.source(name);
    return known ? labelsOf(known) : {};
  };
  const plansOf = ({ source: name, emitter }: { source: string; emitter: string }) => {
    const known = directory.source(name);
    const { retired = false, expectedBack } = known?.settings ?? {};
    const subject = { source: name, emitter, labels: labels(name), fleets: directory.fleetsOf(name) };
    const until = directory.maintenance.length > 0 ? awayUntil(directory.maintenance, subject, now) : undefined;
    return {
      retired,
      unexpected: known?.kind === 'upload',
      ...(until !== undefined && { maintenanceUntil: until }),
      ...(expectedBack !== undefined && { expectedBack }),
    };
  };
  const all = health.views(now, plansOf);
  const groups = silentGroups(causeMembers(all, labels)).map((group) => ({
    ...group,
    members: group.members.map(({ source: of, emitter, lastHeard }) => ({ source: of, emitter, lastHeard })),
  }));
  return {
    at: now,
    followed: source === undefined ? all : all.filter((view) => view.source === source),
    groups:
      source === undefined
        ? groups
        : groups.filter(({ members }) => members.some((member) => member.source === source)),
    leftOut: health.leftOut,
  };
}
