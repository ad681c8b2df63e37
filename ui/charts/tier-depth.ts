/** Indices in the palette's `depth`, by shade. */
const depths = [5, 4, 3, 2] as const;

/** The index of a tier's shade in the palette's `depth`, from 0 (lightest) to 5 (deepest). */
export function tierDepth(shade: number | undefined): number {
  return depths[shade ?? 0] ?? 2;
}
