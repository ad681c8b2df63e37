import { createHash, timingSafeEqual } from 'node:crypto';

/** Whether two texts are the same, in a time that does not tell how much of them is. */
export function isSameText(a: string, b: string): boolean {
  const digest = (text: string): Buffer => createHash('sha256').update(text).digest();
  return timingSafeEqual(digest(a), digest(b));
}
