import type { PlanDocument } from './document.ts';
import { planParts } from './parts/index.ts';
import type { PlanPlace } from './parts/part.ts';

/**
 * Where a path leads, in words. Paths are those of problems (`pipelines[0].steps[1].extract.template`) or of conflicts, which name
 * things by their ids and count steps from 1 (`pipelines/web/steps/2/extract`).
 */
export function placeInWords(plan: PlanDocument, path: string): PlanPlace {
  const isCounted = path.includes('[') || path.includes('.');
  const names = path.split(/[./[\]]+/).filter((name) => name !== '');
  const [list, item = '', ...rest] = names;
  const part = planParts.find(({ key }) => key === list);
  return part ? part.place(plan, { item, rest, isCounted }) : { words: names.join(' ') };
}
