/** Labels as they are typed: `site=pier-4, environment=prod`. */
export function writeLabels(labels: Readonly<Record<string, string>>): string {
  return Object.entries(labels)
    .map(([key, value]) => `${key}=${value}`)
    .join(', ');
}

/** Reads what {@link writeLabels} writes; pieces that are no labels are left out. */
export function readLabels(text: string): Readonly<Record<string, string>> {
  const pairs = piecesOf(text)
    .filter((piece) => piece.includes('='))
    .map((piece) => [piece.slice(0, piece.indexOf('=')).trim(), piece.slice(piece.indexOf('=') + 1).trim()]);
  return Object.fromEntries(pairs.filter(([key, value]) => key && value));
}

/** What is wrong with labels as they are typed; undefined for nothing. */
export function labelsFault(text: string): string | undefined {
  const wrong = piecesOf(text).find((piece) => !/^[\w.-]{1,40}\s*=\s*\S.{0,199}$/.test(piece));
  return wrong === undefined ? undefined : `“${wrong}” is not a label. Example: site=pier-4, team=sea.`;
}

function piecesOf(text: string): readonly string[] {
  return text
    .split(',')
    .map((piece) => piece.trim())
    .filter((piece) => piece !== '');
}
