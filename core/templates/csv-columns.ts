import { builtInFields } from '../conditions/ast.ts';
import { parseCsv } from '../formats/csv.ts';
import { guessType } from './guess-type.ts';

const builtIn: ReadonlySet<string> = new Set(builtInFields);

/**
 * The columns of separated values, as the step `parse-csv` takes them: the names of the first line, each with the type
 * that all values of the lines behind it fit. Names that are empty or built in are told apart by a number.
 */
export function csvColumns(lines: readonly string[]): readonly string[] {
  const [names = [], ...rows] = parseCsv(lines.join('\n'));
  return names.map((name, index) => {
    const values = rows.map((row) => row[index] ?? '').filter((value) => value !== '');
    const type = guessType(values);
    const clean = name.trim().replace(/[^\w.@-]+/g, '_') || `column_${index + 1}`;
    const free = builtIn.has(clean.toLowerCase()) && type !== 'iso' ? `${clean}_${index + 1}` : clean;
    // A time takes a name of its own: the step that sets the event's time takes the field out again.
    const unreserved = builtIn.has(free.toLowerCase()) ? 'at' : free;
    return type === 'text' ? unreserved : `${unreserved}:${type}`;
  });
}
