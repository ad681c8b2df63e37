import type { CapDocument } from './tiers-shape.ts';

const overflowInWords = {
  passing: 'what is over passes',
  sample: 'what is over is sampled',
  refuse: 'what is over is refused',
} as const;

/** What the cap of a tier does, in a few words. */
export function describeCap(cap: CapDocument | undefined): string {
  if (!cap) return 'has no cap';
  const { day, zone = 'UTC', over } = cap;
  const overflow = typeof over === 'string' ? overflowInWords[over] : `what is over goes to ${over.tier}`;
  return `keeps ${day} a day (${zone}); ${overflow}`;
}
