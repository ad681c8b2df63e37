import { reach, ValidationError } from 'yup';
import { nearest } from '../patterns/nearest.ts';
import type { PlanDocument } from './document.ts';
import { planShape } from './document.ts';
import { planParts } from './parts/index.ts';
import type { PlanProblem } from './plan-problem.ts';

export type CheckedPlan =
  | { readonly ok: true; readonly plan: PlanDocument }
  | { readonly ok: false; readonly problems: readonly PlanProblem[] };

/** Checks a plan and reports everything that is wrong with it at once. */
export function checkPlan(value: unknown): CheckedPlan {
  let plan: PlanDocument;
  try {
    // Unknown names are reported, not ignored: a slip of the pen would otherwise change what a plan does, unseen.
    plan = planShape.validateSync(value, { abortEarly: false, strict: false, stripUnknown: false });
  } catch (error) {
    if (!(error instanceof ValidationError)) throw error;
    const inner = error.inner.length > 0 ? error.inner : [error];
    return { ok: false, problems: inner.flatMap(problemsOf) };
  }
  const problems = planParts.flatMap(({ check }) => check(plan));
  return problems.length > 0 ? { ok: false, problems } : { ok: true, plan };
}

function problemsOf(fault: ValidationError): readonly PlanProblem[] {
  const { path = '', type, message, params } = fault;
  if (type !== 'noUnknown' || typeof params?.unknown !== 'string') return [{ path, message }];
  const described = (path === '' ? planShape : reach(planShape, path)).describe();
  const known = 'fields' in described && described.fields ? Object.keys(described.fields) : [];
  return params.unknown.split(', ').map((name) => {
    const suggestion = nearest(name, known);
    return {
      path: path === '' ? name : `${path}.${name}`,
      message: `nothing here is called ${name}${suggestion ? `; did you mean ${suggestion}?` : ''}`,
    };
  });
}
