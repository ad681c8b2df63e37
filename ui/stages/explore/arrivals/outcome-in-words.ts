import type { ArrivedLine } from '#core/arrivals/arrived-line.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import { passingTier, rejectsTier } from '#core/routing/built-in-tiers.ts';

/** Where an event went, in a few words, and whether it is kept. */
export interface ShownOutcome {
  readonly words: string;
  readonly isKept: boolean;
  /** The page of what decided; undefined where nothing did. */
  readonly link: string | undefined;
}

/** Where a line that came in went, by the plan that is live. */
export function outcomeInWords(
  { outcome, tier, rule }: Pick<ArrivedLine, 'outcome' | 'tier' | 'rule'>,
  plan: PlanDocument | undefined,
): ShownOutcome {
  const known = plan?.tiers.find(({ id }) => id === tier);
  const title = known?.title ?? tier;
  const link = known && `/routing?tier=${encodeURIComponent(tier)}`;
  switch (outcome) {
    case 'kept':
      return { words: title, isKept: true, link };
    case 'excluded':
    case 'sampled-out': {
      const exclusion = known?.exclusions?.find(({ id }) => id === rule)?.title ?? rule;
      const page = link && `${link}&exclusion=${encodeURIComponent(rule)}`;
      return { words: `left out by ${exclusion}`, isKept: false, link: page };
    }
    case 'overflowed':
      return { words: `past the cap of ${title}`, isKept: false, link };
    case 'expired':
      return { words: `too old for ${title}`, isKept: false, link };
    case 'passing':
      return { words: passingTier.title.toLowerCase(), isKept: false, link: undefined };
    case 'rejected':
    case 'discarded':
      return {
        words: outcome === 'rejected' ? rejectsTier.title.toLowerCase() : 'discarded',
        isKept: false,
        link: outcome === 'rejected' ? '/parsing?view=rejects' : undefined,
      };
    case 'lost':
      return { words: 'lost', isKept: false, link: undefined };
  }
}
