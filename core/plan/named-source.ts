/** The source that a condition names first; empty when it names none. */
export function namedSource(condition: string): string {
  return /\bsource\s*(?:=|in\s*\()\s*"?([\w-]+)/.exec(condition)?.[1] ?? '';
}
