import type { WhyAnswer, WhyRow } from '#core/answers/why.ts';
import { withPart } from '#core/conditions/parts.ts';
import { equalsText } from '#core/conditions/write.ts';
import type { Cause, Explanation } from '#core/why/causes.ts';
import type { Onset } from '#core/why/onset.ts';
import { expectedOf } from '#core/why/onset.ts';
import type { ComparedPeriods, Period } from '#core/why/periods.ts';
import type { Figures } from './figure-reader.ts';
import { type WhyQuestion, zeros } from './why-question.ts';

/** The answer without what changed nearby. */
export type Why = Omit<WhyAnswer, 'around' | 'currency' | 'tookMs'>;

/** What was found out about a change. */
export interface FoundChange {
  readonly explanation: Explanation;
  readonly times: ComparedPeriods;
  /** When it began, to the minute if known; absent if no change was found over time. */
  readonly shift?: Onset | undefined;
  readonly series: Figures;
  readonly unit: WhyAnswer['unit'];
  readonly tiersLeftOut: readonly string[];
  readonly basis: WhyAnswer['basis'];
  /** Compared events, and all events of the compared periods. */
  readonly events: number;
  readonly of: number;
}

/** The answer from what was found. */
export function whyAnswer({ condition, measure, beside }: WhyQuestion, found: FoundChange): Why {
  const { explanation, shift, series } = found;
  const expected =
    measure.isAdditive && shift !== undefined && expectedOf({ ...series, sums: zeros(series.figures) }, shift.began);
  return {
    verdict: explanation.verdict,
    basis: found.basis,
    ...(shift && { began: shift.began }),
    ...(shift?.ended !== undefined && { ended: shift.ended }),
    form: beside ? 'chosen' : (shift?.form ?? 'none'),
    unit: found.unit,
    times: found.times,
    before: figureOrNull(explanation.before),
    since: figureOrNull(explanation.since),
    rows: explanation.causes.map((cause) => rowOf(cause, condition)),
    rest: explanation.rest,
    ...(explanation.needed && { needed: explanation.needed }),
    series: { ...shown(series), ...(expected && { expected: [...expected] }) },
    tiersLeftOut: found.tiersLeftOut,
    lookedAt: {
      fields: explanation.fields,
      values: explanation.values,
      pairs: explanation.combinations,
      events: Math.round(found.events),
      of: Math.round(found.of),
    },
  };
}

/** The answer if there is too little to compare. */
export function nothingToCompare(
  window: Period,
  { series, unit, tiersLeftOut, basis }: Pick<FoundChange, 'series' | 'unit' | 'tiersLeftOut' | 'basis'>,
): Why {
  return {
    ...{ verdict: 'nothing', form: 'none', times: { since: window, before: [] } },
    ...{ basis, unit, tiersLeftOut, before: null, since: null, rows: [], rest: 1 },
    series: shown(series),
    lookedAt: { fields: 0, values: 0, pairs: 0, events: 0, of: 0 },
  };
}

/** The condition of a cause: that of the question and its values. */
export function conditionOfCause({ where }: Pick<Cause, 'where'>, condition: string): string {
  return where.reduce((text, { field, value }) => withPart(text, equalsText(field, value)), condition);
}

/** An explanation of all events: its shares are exact. */
export function withoutBands(explanation: Explanation): Explanation {
  return { ...explanation, causes: explanation.causes.map((cause) => ({ ...cause, band: 0 })) };
}

function rowOf({ where, before, since, ...rest }: Cause, condition: string): WhyRow {
  const ratio = before !== null && since !== null && before !== 0 ? since / before : null;
  return { where, condition: conditionOfCause({ where }, condition), before, since, ratio, ...rest };
}

function shown({ start, width, figures }: Figures): Why['series'] {
  return { start, width, figures: Array.from(figures, figureOrNull) };
}

function figureOrNull(figure: number): number | null {
  return Number.isFinite(figure) ? figure : null;
}
