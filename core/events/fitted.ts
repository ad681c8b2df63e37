/** A text that fits a column of `length` characters: one that is longer is cut, between characters, and ends in an ellipsis. */
export function fitted(text: string, length: number): string {
  if (text.length <= length) return text;
  const characters = [...text];
  return characters.length <= length ? text : `${characters.slice(0, length - 1).join('')}…`;
}
