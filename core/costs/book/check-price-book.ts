import { ValidationError } from 'yup';
import { type InputProblem, problemsOf } from '../../input/input-problem.ts';
import type { Budget, PriceBook } from './price-book.ts';
import { priceBookShape } from './price-book-shape.ts';

export type CheckedPriceBook =
  | { readonly ok: true; readonly book: PriceBook }
  | { readonly ok: false; readonly problems: readonly InputProblem[] };

/** Names that a book may use; absent ones are not checked. */
export interface KnownNames {
  readonly teams?: ReadonlySet<string> | undefined;
  readonly fleets?: ReadonlySet<string> | undefined;
  readonly tiers?: ReadonlySet<string> | undefined;
}

/** Checks a price book and reports everything that is wrong with it at once, each with its place. */
export function checkPriceBook(value: unknown, names: KnownNames = {}): CheckedPriceBook {
  let book: PriceBook;
  try {
    book = priceBookShape.validateSync(value, { abortEarly: false, stripUnknown: false }) as PriceBook;
  } catch (error) {
    if (!(error instanceof ValidationError)) throw error;
    return { ok: false, problems: problemsOf(error) };
  }
  const problems = [...datesOf(book), ...curvesOf(book), ...namesOf(book, names), ...budgetsOf(book)];
  return problems.length > 0 ? { ok: false, problems } : { ok: true, book };
}

function datesOf({ entries }: PriceBook): readonly InputProblem[] {
  return entries.flatMap(({ from }, i) => {
    const before = entries[i - 1]?.from;
    if (before === undefined || before < from) return [];
    const message =
      before === from
        ? `two entries hold from ${from}; put them together`
        : `it holds from a day before that of the entry above (${before}); entries stand in the order of their days`;
    return [{ path: `entries[${i}].from`, message }];
  });
}

function curvesOf({ entries }: PriceBook): readonly InputProblem[] {
  const ofRates = (points: PriceBook['entries'][number]['kept'], path: string): readonly InputProblem[] =>
    (points ?? []).flatMap(({ days }, i) =>
      i > 0 && days <= (points?.[i - 1]?.days ?? 0)
        ? [{ path: `${path}.kept[${i}].days`, message: 'the days of a curve grow from point to point' }]
        : [],
    );
  return entries.flatMap((entry, i) => [
    ...ofRates(entry.kept, `entries[${i}]`),
    ...(entry.own ?? []).flatMap((own, j) => ofRates(own.kept, `entries[${i}].own[${j}]`)),
  ]);
}

function namesOf({ entries, budgets = [] }: PriceBook, { teams, fleets, tiers }: KnownNames): readonly InputProblem[] {
  const unknown = (known: ReadonlySet<string> | undefined, name: string | undefined, path: string, what: string) =>
    known && name !== undefined && !known.has(name) ? [{ path, message: `there is no ${what} called ${name}` }] : [];
  const of = (one: Omit<Budget, 'amount'>, path: string) => [
    ...unknown(teams, one.team, `${path}.team`, 'team'),
    ...unknown(fleets, one.fleet, `${path}.fleet`, 'fleet'),
    ...unknown(tiers, one.tier, `${path}.tier`, 'tier'),
  ];
  return [
    ...entries.flatMap(({ own = [] }, i) =>
      own.flatMap((rates, j) => {
        const path = `entries[${i}].own[${j}]`;
        const nobody = rates.team === undefined && rates.tier === undefined;
        return nobody ? [{ path, message: 'say whose rates these are: a team, a tier, or both' }] : of(rates, path);
      }),
    ),
    ...budgets.flatMap((budget, i) => of(budget, `budgets[${i}]`)),
  ];
}

function budgetsOf({ budgets = [] }: PriceBook): readonly InputProblem[] {
  const seen = new Set<string>();
  return budgets.flatMap(({ team = '', fleet = '', tier = '' }, i) => {
    if ([team, fleet, tier].filter((name) => name !== '').length > 1)
      return [{ path: `budgets[${i}]`, message: 'a budget is for a team, a fleet or a tier, not for several of them' }];
    const key = JSON.stringify([team, fleet, tier]);
    if (seen.has(key)) return [{ path: `budgets[${i}]`, message: 'there is a budget for this already' }];
    seen.add(key);
    return [];
  });
}
