import { tierContents } from '#store/segments.ts';
import { store } from './store.ts';

/** For how long an answer is given again, in milliseconds: it looks at every segment, and every open screen asks. */
const freshFor = 15_000;

let last: { readonly at: number; readonly answer: ReturnType<typeof tierContents> } | undefined;

/** What each tier holds, at most some seconds ago. */
export async function readContents(now: number): ReturnType<typeof tierContents> {
  if (!last || now - last.at > freshFor) {
    const answer = tierContents(store());
    last = { at: now, answer };
    // A failure is not given again.
    answer.catch(() => (last = undefined));
  }
  return await last.answer;
}
