/** An emitter as the search for a common cause sees it. Times in milliseconds. */
export interface CauseMember {
  readonly source: string;
  readonly emitter: string;
  /** What may be shared: source, site, network, gateway, version … by name. */
  readonly traits: ReadonlyMap<string, string>;
  readonly silent: boolean;
  /** For silent ones: the last sign of life, and by when the next one was due: it fell silent in between. */
  readonly lastHeard: number;
  readonly due: number;
}

/** What emitters that fell silent together have in common. */
export interface Cause {
  readonly trait: string;
  readonly value: string;
  /** Emitters that share it: how many fell silent together, and how many there are. */
  readonly silent: number;
  readonly all: number;
  /** How sure it is that the shared trait is behind it, 0 to 1. */
  readonly sure: number;
}

/** Emitters that fell silent together. */
export interface SilentGroup {
  readonly members: readonly CauseMember[];
  /** When they fell silent: a moment that fits all of them. */
  readonly at: number;
  /** The most likely cause first; none when they share nothing that others lack. */
  readonly causes: readonly Cause[];
}

/** Fewer silent emitters are no group. */
const leastMembers = 2;
/** Slack at both ends of the time in which an emitter must have fallen silent: clocks and gathering, in milliseconds. */
const slack = 5_000;
/** Nothing is certain. */
const mostSure = 0.99;
/** Causes that are named of a group. */
const mostCauses = 3;

interface Candidate extends Cause {
  readonly members: readonly CauseMember[];
  readonly at: number;
  readonly score: number;
}

/**
 * Groups silent emitters by what they share and the others lack. Of all shared traits the one is taken first that
 * explains the silence best, by the likelihood ratio of "those with the trait fall silent more often" against "all alike"
 * (the G statistic: S. S. Wilks, 1938); its members are set aside, and what is left is looked at again.
 */
export function silentGroups(members: readonly CauseMember[]): readonly SilentGroup[] {
  const groups: SilentGroup[] = [];
  let open = members;
  for (;;) {
    const ranked = candidates(open);
    const best = ranked[0];
    if (!best) break;
    const explained = new Set(best.members);
    const rivals = ranked.filter(
      (other) => other.members.filter((member) => explained.has(member)).length > best.silent / 2,
    );
    const causes = rivals
      .slice(0, mostCauses)
      .map(({ trait, value, silent, all, sure }) => ({ trait, value, silent, all, sure }));
    groups.push({ members: best.members, at: best.at, causes });
    open = open.filter((member) => !explained.has(member));
  }
  const alone = open.filter((member) => member.silent);
  return [...groups, ...alone.map((member) => ({ members: [member], at: member.lastHeard, causes: [] }))];
}

function candidates(members: readonly CauseMember[]): readonly Candidate[] {
  const silent = members.filter((member) => member.silent);
  if (silent.length < leastMembers) return [];
  const withTrait = new Map<string, { trait: string; value: string; all: number; silent: CauseMember[] }>();
  for (const member of members) {
    for (const [trait, value] of member.traits) {
      const key = `${trait}\u0000${value}`;
      let members = withTrait.get(key);
      if (!members) withTrait.set(key, (members = { trait, value, all: 0, silent: [] }));
      members.all++;
      if (member.silent) members.silent.push(member);
    }
  }
  const ranked: Candidate[] = [];
  for (const { trait, value, all, silent: own } of withTrait.values()) {
    if (own.length < leastMembers) continue;
    const { together, at } = largestOverlap(own);
    if (together.length < leastMembers) continue;
    const score = likelihoodRatio(together.length, all, silent.length - together.length, members.length - all);
    if (score <= 0) continue;
    ranked.push({
      trait,
      value,
      silent: together.length,
      all,
      sure: surety(together.length, all, score),
      members: together,
      at,
      score,
    });
  }
  // Of traits that explain equally much the one with fewer bystanders comes first.
  return ranked.sort((a, b) => b.score - a.score || a.all - b.all);
}

/** The most members whose times of falling silent can be the same, and such a time. */
function largestOverlap(members: readonly CauseMember[]): { together: readonly CauseMember[]; at: number } {
  let at = 0;
  let most = 0;
  for (const { lastHeard } of members) {
    const moment = lastHeard + slack;
    const count = members.reduce((sum, other) => sum + (fits(other, moment) ? 1 : 0), 0);
    if (count > most) {
      most = count;
      at = lastHeard;
    }
  }
  return { together: members.filter((member) => fits(member, at + slack)), at };
}

function fits({ lastHeard, due }: CauseMember, moment: number): boolean {
  return lastHeard - slack <= moment && moment <= due + 2 * slack;
}

/** Half the G statistic of "with the trait" against "without" (natural logarithm), 0 where those with it do better. */
function likelihoodRatio(silentWith: number, allWith: number, silentWithout: number, allWithout: number): number {
  const rate = (silent: number, all: number): number => (silent + 0.01) / (all + 0.02);
  const withTrait = rate(silentWith, allWith);
  const without = rate(Math.max(0, silentWithout), allWithout);
  if (withTrait <= without) return 0;
  const overall = rate(silentWith + Math.max(0, silentWithout), allWith + allWithout);
  const agreement = (silent: number, all: number, share: number): number =>
    silent * Math.log(share) + (all - silent) * Math.log(1 - share);
  return (
    agreement(silentWith, allWith, withTrait) +
    agreement(Math.max(0, silentWithout), allWithout, without) -
    agreement(silentWith, allWith, overall) -
    agreement(Math.max(0, silentWithout), allWithout, overall)
  );
}

/** How sure a cause is: the share of those with the trait that fell silent, less what few members leave to chance. */
function surety(silent: number, all: number, score: number): number {
  return Math.min(mostSure, (silent / all) * (1 - Math.exp(-score)));
}
