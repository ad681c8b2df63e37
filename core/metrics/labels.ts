/** The value of a label of the series that takes what goes beyond a key's top, or beyond the limit of series. */
export const theRest = true;

/** The value of a label: text, null for events without the field, or {@link theRest}. */
export type LabelValue = string | null | typeof theRest;

/** What a series is of: a value for each key of its metric, in the order of the keys. */
export type Labels = readonly LabelValue[];

/** Labels with the names of the keys that they are of, by which they stay when the keys of the metric change. */
export type SeriesLabels = Readonly<Record<string, LabelValue>>;

/** A text by which the series of a metric are told apart: each value behind its length. */
export function labelsId(labels: Labels): string {
  let id = '';
  for (const value of labels) id += typeof value === 'string' ? `${value.length}:${value}` : value === null ? 'n' : 'r';
  return id;
}

/** The labels of an id that {@link labelsId} made. */
export function labelsOfId(id: string): Labels {
  const labels: LabelValue[] = [];
  for (let at = 0; at < id.length; ) {
    if (id[at] === 'n' || id[at] === 'r') {
      labels.push(id[at++] === 'r' ? theRest : null);
      continue;
    }
    const colon = id.indexOf(':', at);
    const end = colon + 1 + Number(id.slice(at, colon));
    labels.push(id.slice(colon + 1, end));
    at = end;
  }
  return labels;
}

/** The labels of the series that takes what goes beyond the limit of series. */
export function restLabels(keys: number): Labels {
  return Array.from({ length: keys }, () => theRest);
}

/** Whether it is the series that takes what goes beyond the limit. */
export function isRest(labels: Labels): boolean {
  return labels.length > 0 && labels.every((value) => value === theRest);
}

/** A value in words. */
export function labelInWords(value: LabelValue): string {
  if (value === theRest) return 'the rest';
  return value ?? '(none)';
}
