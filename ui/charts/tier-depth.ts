/** How deep the shades of tiers are, as places in the palette's `depth`. */
const depths = [5, 4, 3, 2] as const;

/** Where the shade of a tier lies in the palette's `depth`: 0 the lightest, 5 the deepest. */
export function tierDepth(shade: number | undefined): number {
  return depths[shade ?? 0] ?? 2;
}
