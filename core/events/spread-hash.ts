/** Spreads a hash over all of 32 bits, so that remainders and leading bits are even (the finaliser of MurmurHash3, A. Appleby). */
export function spreadHash(hash: number): number {
  let mixed = Math.imul(hash ^ (hash >>> 16), 0x85ebca6b);
  mixed = Math.imul(mixed ^ (mixed >>> 13), 0xc2b2ae35);
  return (mixed ^ (mixed >>> 16)) >>> 0;
}
