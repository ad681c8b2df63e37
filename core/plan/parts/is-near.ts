/** Whether two figures of a rehearsal are so near to each other that they count as the same: to half a hundredth. */
export function isNear(a: number, b: number): boolean {
  return Math.abs(a - b) <= 0.005 * Math.max(Math.abs(a), Math.abs(b));
}
