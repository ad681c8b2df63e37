import { durationInWords } from '../duration-in-words.ts';
import type { PostureOverride } from './postures-shape.ts';

/** What an override of a posture does, in a few words. */
export function describeOverride({ exclusion, tier, keep = '', cap }: PostureOverride): string {
  if (tier !== undefined) {
    const longer = keep === '' ? [] : [`keeps events for ${durationInWords(keep)} at least`];
    return `tier ${tier} ${[...longer, ...(cap ? ['has no cap'] : [])].join(' and ')}`;
  }
  return exclusion === '*' ? `all exclusions keep ${keep}` : `exclusion ${exclusion} keeps ${keep}`;
}
