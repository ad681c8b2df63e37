/** The name of a field as a condition writes it: in back quotes where it is no plain name. */
export function writeField(name: string): string {
  return /^[A-Za-z_@][\w.@-]*$/.test(name) && !isKeyword(name) ? name : `\`${name}\``;
}

/** A condition that picks the events whose field has just this value. */
export function equals(name: string, value: string | number | boolean): string {
  return `${writeField(name)} = ${typeof value === 'string' ? writeText(value) : value}`;
}

/** A condition that picks the events whose field has a value that is written as text, be it a text, a number or a flag. */
export function equalsText(name: string, text: string): string {
  const isNumber = /^-?\d+(\.\d+)?$/.test(text) && String(Number(text)) === text;
  return equals(name, isNumber ? Number(text) : text);
}

/** A text as a condition writes it: bare where that says the same, else in quotes, where only quotes and backslashes are escaped. */
function writeText(text: string): string {
  if (/^[A-Za-z_/][\w./:@-]*$/.test(text) && !isKeyword(text)) return text;
  return quoted(text);
}

/** A text in quotes, as a condition takes it literally. */
export function quoted(text: string): string {
  return `"${text.replace(/["\\]/g, '\\$&')}"`;
}

function isKeyword(word: string): boolean {
  return /^(and|or|not|has|in|matches)$/i.test(word);
}
