import type { EventBatch } from '../events/batch.ts';
import { valueAt } from '../events/columns.ts';
import { severityWord } from '../events/severity.ts';
import { textAt } from '../events/text-table.ts';
import { functions, longestText, numberOf, textOf, type Value } from './functions.ts';
import type { Expression, Operator } from './parse.ts';

/** The value of an expression in one row; undefined where the event lacks what it needs. */
export type RowValue = (row: number) => Value;

/** Binds an expression to the columns of a batch. */
export function bindExpression(expression: Expression, batch: EventBatch): RowValue {
  switch (expression.kind) {
    case 'number':
    case 'text': {
      const { value } = expression;
      return () => value;
    }
    case 'field':
      return bindField(expression.name, batch);
    case 'negative': {
      const of = bindExpression(expression.of, batch);
      return (row) => {
        const number = numberOf(of(row));
        return number === undefined ? undefined : -number;
      };
    }
    case 'operation':
      return bindOperation(
        expression.operator,
        bindExpression(expression.left, batch),
        bindExpression(expression.right, batch),
      );
    case 'call': {
      const inputs = expression.inputs.map((input) => bindExpression(input, batch));
      const apply = functions.get(expression.name)?.apply;
      return (row) => apply?.(inputs.map((input) => input(row)));
    }
  }
}

function bindField(name: string, batch: EventBatch): RowValue {
  switch (name.toLowerCase()) {
    case 'body':
      return (row) => textAt(batch.body, row) || undefined;
    case 'source':
      return () => batch.source;
    case 'emitter':
      return (row) => {
        const code = batch.emitter.codes[row] as number;
        return code < 0 ? undefined : textAt(batch.emitter.table, code);
      };
    case 'severity':
      return (row) => severityWord(batch.severity[row] as number);
    case 'time':
      return (row) => batch.time[row] as number;
    case 'received':
      return (row) => batch.received[row] as number;
    default: {
      const columns = batch.attributes.get(name);
      if (!columns) return () => undefined;
      return (row) => {
        const value = valueAt(columns, row);
        return typeof value === 'boolean' ? String(value) : value;
      };
    }
  }
}

function bindOperation(operator: Operator, left: RowValue, right: RowValue): RowValue {
  if (operator === '&') {
    return (row) => {
      const before = textOf(left(row));
      const behind = textOf(right(row));
      return before === undefined || behind === undefined ? undefined : (before + behind).slice(0, longestText);
    };
  }
  const apply = arithmetic[operator];
  return (row) => {
    const a = numberOf(left(row));
    const b = numberOf(right(row));
    if (a === undefined || b === undefined) return undefined;
    const value = apply(a, b);
    return Number.isFinite(value) ? value : undefined;
  };
}

const arithmetic: Readonly<Record<Exclude<Operator, '&'>, (a: number, b: number) => number>> = {
  '+': (a, b) => a + b,
  '-': (a, b) => a - b,
  '*': (a, b) => a * b,
  '/': (a, b) => a / b,
  '%': (a, b) => a % b,
};
