import { withPart } from '../conditions/parts.ts';
import { equalsText, writeField } from '../conditions/write.ts';
import type { TalkerLabels } from './talker-labels.ts';

/** The condition that holds for what one of a ranking contributes, beside the ranking's own (`when`). */
export function conditionOfTalker(when: string, by: readonly string[], labels: TalkerLabels): string {
  return partsOf(by, labels).reduce(withPart, when);
}

/** The ranking's own condition (`when`) without what some contribute. */
export function conditionWithout(when: string, by: readonly string[], without: readonly TalkerLabels[]): string {
  return without
    .map((labels) => {
      const [only, ...more] = partsOf(by, labels);
      if (only === undefined) return '';
      if (more.length > 0) return `not (${[only, ...more].join(' and ')})`;
      return only.startsWith('not ') ? only.slice('not '.length) : `not ${only}`;
    })
    .filter((part) => part !== '')
    .reduce(withPart, when);
}

function partsOf(by: readonly string[], labels: TalkerLabels): readonly string[] {
  return by.flatMap((field, i) => {
    const value = labels[i];
    if (value === undefined) return [];
    return [value === null ? `not has ${writeField(field)}` : equalsText(field, value)];
  });
}
