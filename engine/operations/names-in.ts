/** The names in a list with commas between them; none in an empty one. */
export function namesIn(list: string): readonly string[] {
  return list.split(',').flatMap((name) => name.trim() || []);
}
