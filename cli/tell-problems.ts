import type { TextProblem } from '#core/input/read-yaml.ts';

/** Prints what is wrong in a file, each with its line and column. Returns the exit code. */
export function tellProblems(file: string, problems: readonly TextProblem[]): number {
  for (const { line, column, path, message } of problems)
    console.error(`${file}:${line}:${column}: ${path === '' ? '' : `${path}: `}${message}`);
  return 1;
}
