/** One byte per row: 1 where the condition holds. */
export type Mask = Uint8Array;
