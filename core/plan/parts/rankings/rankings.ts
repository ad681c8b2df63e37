import type { PlanDocument } from '../../document.ts';
import { type FieldUse, readByCondition, usesOf } from '../../field-use.ts';
import { changed, diffList, type PlanChange } from '../../plan-change.ts';
import { checkCondition, checkIds, type PlanProblem, problemIf } from '../../plan-problem.ts';
import { checkKeyField } from '../metrics/check-key-field.ts';
import { itemAt, nameOf, numberAt } from '../named-item.ts';
import type { PathInPart, PlanPart, PlanPlace } from '../part.ts';
import { describeRanking, readyRankings } from './ranking.ts';
import type { RankingDocument } from './rankings-shape.ts';

/** Rankings of who or what contributes most. */
export const rankings: PlanPart = {
  key: 'rankings',
  noun: 'ranking',
  items: ({ rankings: all = [] }) => all,
  check: ({ rankings: all = [] }) => [
    ...checkIds(all, 'rankings'),
    ...all.flatMap((ranking, i) => checkRanking(ranking, `rankings[${i}]`)),
  ],
  diff: (before, after) =>
    diffList(before.rankings ?? [], after.rankings ?? [], { path: 'rankings', noun: 'ranking' }, diffRanking),
  place: placeInRanking,
  fieldUses: (plan) => ({ makers: [], readers: (plan.rankings ?? []).flatMap(readByRanking) }),
  readers: (plan) =>
    (plan.rankings ?? []).map(({ title, when }) => ({ kind: 'ranking', name: title, condition: when })),
};

function checkRanking({ id, when, by, measure, of }: RankingDocument, path: string): readonly PlanProblem[] {
  const isSum = measure === 'sum';
  const fields = by.map((field) => ({ id: field.toLowerCase() }));
  return [
    ...problemIf(
      readyRankings.some((ready) => ready.id === id),
      `${path}.id`,
      `${id} is a ranking that is kept anyway: choose another id`,
    ),
    ...checkCondition(when, `${path}.when`),
    ...by.flatMap((field, k) => checkKeyField(field, `${path}.by[${k}].field`)),
    ...checkIds(fields, `${path}.by`).map(({ path: at, message }) => ({ path: at.replace(/\.id$/, ''), message })),
    ...problemIf(isSum && !of, `${path}.of`, 'say of which field: a sum is of one'),
    ...problemIf(!isSum && of !== undefined, `${path}.of`, `a ranking by ${measure} is of the events, not of a field`),
  ];
}

function diffRanking(before: RankingDocument, after: RankingDocument, path: string): readonly PlanChange[] {
  const { title } = after;
  const [was, is] = [describeRanking(before), describeRanking(after)];
  return [
    ...changed(path, `ranking “${before.title}” has another title`, before.title, title),
    ...changed(path, `ranking “${title}” is of other events`, before.when, after.when),
    ...changed(path, `ranking “${title}” is of the ${is}, and begins anew`, was, is),
  ];
}

function placeInRanking(plan: PlanDocument, path: PathInPart): PlanPlace {
  const ranking = itemAt(plan.rankings ?? [], path);
  const [field, which] = path.rest;
  const isKey = field === 'by' && which !== undefined;
  const place = isKey ? [`key ${numberAt(which, path.isCounted)}`] : path.rest;
  return {
    words: [`Ranking “${nameOf(ranking, path.item)}”`, ...place].join(', '),
    ...(ranking && { item: { part: 'rankings', id: ranking.id, ...(field !== undefined && { field }) } }),
  };
}

function readByRanking({ id, title, when, of, by }: RankingDocument): readonly FieldUse[] {
  const place = { at: id, title: `ranking “${title}”` };
  return [...readByCondition(when, place), ...usesOf([...(of ? [of] : []), ...by], place)];
}
