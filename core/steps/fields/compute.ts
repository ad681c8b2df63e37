import { object, string } from 'yup';
import { bindExpression } from '../../expressions/evaluate.ts';
import { parseExpression } from '../../expressions/parse.ts';
import { checkMade } from '../names.ts';
import { FailureCollector, type StepKind, stepResult } from '../step.ts';
import { MadeAttributes, unitOfType } from '../texts.ts';

export interface ComputeOptions {
  readonly set: string;
  /** The expression whose value the field gets. */
  readonly to: string;
  /** What a number measures; a plain number when it is not given. */
  readonly as?: 'duration' | 'size' | undefined;
}

/** Gives events a field that is computed from others. */
export const compute: StepKind<ComputeOptions> = {
  kind: 'compute',
  title: 'Compute',
  help: 'Computes a field from others: + - * / % for numbers, & to put texts together, and functions such as round, lower, part or first. Durations count in seconds and sizes in bytes, so took * 1000 is in milliseconds. An event that lacks a field the expression needs is left without the new one, and the step fails for it.',
  schema: object({
    set: string().required(),
    to: string().required(),
    as: string().oneOf(['duration', 'size'] as const),
  }).noUnknown(),
  check: ({ set, to }) => {
    const parsed = parseExpression(to);
    if (parsed.ok) return checkMade(set, 'set');
    const { message, start, suggestion } = parsed.problem;
    return [
      {
        path: 'to',
        message: `${message} (character ${start + 1})${suggestion ? `; did you mean ${suggestion}?` : ''}`,
      },
    ];
  },
  describe: ({ set, to }) => `compute ${set} = ${to}`,
  makes: ({ set }) => [set],
  reads: ({ to }) => {
    const parsed = parseExpression(to);
    return parsed.ok ? parsed.fields : [];
  },
  example: {
    options: { set: 'label', to: 'upper(port) & "-" & (berth + 1)' },
    input: '{"port":"tarnholm","berth":2}',
    expect: { label: 'TARNHOLM-3' },
  },
  compile: (options) => {
    const parsed = parseExpression(options.to);
    if (!parsed.ok) throw new Error(parsed.problem.message);
    return (batch, rows) => {
      const value = bindExpression(parsed.expression, batch);
      const made = new MadeAttributes(batch.rows);
      const attribute = made.get(options.set, unitOfType(options.as ?? ''));
      const failures = new FailureCollector(batch.rows);
      for (let row = 0; row < rows.length; row++) {
        if (rows[row] === 0) continue;
        const result = value(row);
        if (typeof result === 'number') attribute.setNumber(row, result);
        else if (result !== undefined) attribute.setString(row, result);
        else failures.add(row, `${options.set} cannot be computed`);
      }
      return stepResult(made.into(batch, failures.passed(rows)), failures);
    };
  },
};
