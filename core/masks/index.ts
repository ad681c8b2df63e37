import { card } from './card.ts';
import type { Detector } from './detector.ts';
import { email } from './email.ts';
import { ip } from './ip.ts';
import { token } from './token.ts';

/** All detectors by id. */
export const detectors: ReadonlyMap<string, Detector> = new Map(
  [card, email, token, ip].map((detector) => [detector.id, detector]),
);
