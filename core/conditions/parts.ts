import { parseCondition } from './parse.ts';

/** The parts of a condition of which all have to hold, as they are written; none for one that is wrong or empty. */
export function partsOf(text: string): readonly string[] {
  return parseCondition(text).parts.map(({ start, end }) => text.slice(start, end));
}

/** A condition without one of its parts, by its place among them. */
export function withoutPart(text: string, place: number): string {
  return partsOf(text)
    .filter((_, index) => index !== place)
    .join(' ');
}

/** A condition that asks for a part as well. */
export function withPart(text: string, part: string): string {
  if (text.trim() === '') return part;
  const { parts } = parseCondition(text);
  const [only] = parts;
  const isChoice = parts.length === 1 && only !== undefined && partIsChoice(text.slice(only.start, only.end));
  // A comment would take what follows it on its line along.
  const end = text.includes('#') ? '\n' : '';
  return isChoice ? `(${text}${end}) ${part}` : `${text}${end || ' '}${part}`;
}

function partIsChoice(part: string): boolean {
  return parseCondition(part).node.kind === 'or' && !part.startsWith('(');
}
