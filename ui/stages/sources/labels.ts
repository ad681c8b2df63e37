/** Labels as they are typed: `site=pier-4, environment=prod`. */
export function writeLabels(labels: Readonly<Record<string, string>>): string {
  return Object.entries(labels)
    .map(([key, value]) => `${key}=${value}`)
    .join(', ');
}

/** Reads what {@link writeLabels} writes; pieces without an equals sign are left out. */
export function readLabels(text: string): Readonly<Record<string, string>> {
  const pairs = text.split(',').map((piece) => piece.split('=').map((part) => part.trim()));
  return Object.fromEntries(pairs.filter(([key, value]) => key && value));
}
