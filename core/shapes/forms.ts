import { isHole, isWord, type Skeleton, valueHole } from './token.ts';

/** The mark that joins what some lines leave out to a value: `libtide:arm` and `libtide`, `pier:8443` and `pier`. */
const joint = ':';

/** Whether two holes that a mark joins begin at a place. */
function isJoined(skeleton: Skeleton, place: number): boolean {
  const [first = '', mark, second = ''] = skeleton.slice(place, place + 3);
  return isHole(first) && mark === joint && isHole(second);
}

/** The places of what a mark joins to a word or a hole: `arm` in `libtide:arm`. */
export function secondParts(skeleton: Skeleton): readonly number[] {
  const isPart = (token = ''): boolean => isHole(token) || isWord(token);
  return skeleton.flatMap((token, place) =>
    skeleton[place - 1] === joint && isPart(token) && isPart(skeleton[place - 2]) ? [place] : [],
  );
}

/**
 * What a skeleton is where one of its joined values is written without its second part. Only holes are joined, so `role:7`
 * and `role` stay apart as long as the word before the mark is always the same; so does what has no constant word.
 */
export function shorterForms(skeleton: Skeleton): readonly Skeleton[] {
  if (!skeleton.some(isWord)) return [];
  return skeleton.flatMap((_, place) =>
    isJoined(skeleton, place) ? [[...skeleton.slice(0, place), valueHole, ...skeleton.slice(place + 3)]] : [],
  );
}

/** What a skeleton is where one of its holes has a second part. */
export function longerForms(skeleton: Skeleton): readonly Skeleton[] {
  if (!skeleton.some(isWord)) return [];
  return skeleton.flatMap((token, place) =>
    isHole(token) ? [[...skeleton.slice(0, place), valueHole, joint, valueHole, ...skeleton.slice(place + 1)]] : [],
  );
}

/**
 * The texts of a line's tokens as a skeleton has them: where the line is in another form, joined values are one text.
 * Undefined where they are not as many.
 */
export function textsInForm(skeleton: Skeleton, texts: readonly string[]): readonly string[] | undefined {
  if (texts.length === skeleton.length) return texts;
  let at = 0;
  const inForm = skeleton.map((token, place) => {
    const isWhole = !isHole(token) || skeleton[place + 1] === joint || texts[at + 1] !== joint;
    const tokens = isWhole ? 1 : 3;
    at += tokens;
    return texts.slice(at - tokens, at).join('');
  });
  return at === texts.length ? inForm : undefined;
}
