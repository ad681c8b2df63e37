import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';

/** Applies the blocks of code in a document to a project: files that it names first, and lines that go into others. */
export function applyDocument(document: string, root: string): readonly string[] {
  const touched: string[] = [];
  for (const [, language, code = ''] of readFileSync(document, 'utf8').matchAll(/^```(\w+)\n(.*?)^```$/gms)) {
    const [first = '', ...lines] = code.split('\n');
    if (language === 'diff') {
      const file = first.replace(/^in /, '');
      const path = join(root, file);
      writeFileSync(path, applied(readFileSync(path, 'utf8'), lines, file));
      touched.push(file);
    } else if (first.startsWith('// ')) {
      const file = first.slice(3);
      mkdirSync(dirname(join(root, file)), { recursive: true });
      writeFileSync(join(root, file), lines.join('\n'));
      touched.push(file);
    }
  }
  return touched;
}

/** A text with the lines of a change put in: ` ` finds a line, `-` takes the next one of that text out, `+` adds behind. */
function applied(text: string, change: readonly string[], file: string): string {
  const lines = text.split('\n');
  let at = 0;
  for (const line of change) {
    const [sign, rest] = [line[0], line.slice(1)];
    if (sign === '+') lines.splice(at++, 0, rest);
    else if (sign === '-' || sign === ' ') {
      const found = lines.findIndex((candidate, i) => i >= at && candidate === rest);
      if (found < 0) throw new Error(`${file} has no line “${rest}” where the document says.`);
      at = sign === '-' ? found : found + 1;
      if (sign === '-') lines.splice(found, 1);
    }
  }
  return lines.join('\n');
}
