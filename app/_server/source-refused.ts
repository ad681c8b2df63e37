import { object, string } from 'yup';
import { callEngine, problem } from './engine.ts';

const answerShape = object({ problem: string().defined() });

/** Why a source may not be set to read something, as an answer: the installation says what may be read. Undefined: it may. */
export async function sourceRefused(
  settings: { readonly globs?: readonly string[] | undefined; readonly url?: string | undefined } | undefined,
): Promise<Response | undefined> {
  const { globs = [], url } = settings ?? {};
  if (globs.length === 0 && !url) return undefined;
  const answer = await callEngine('/sources/check', { body: { globs, url } });
  if (!answer.ok) return answer;
  const found = answerShape.validateSync(await answer.json()).problem;
  if (found === '') return undefined;
  const path = url ? 'settings.url' : 'settings.globs';
  return problem(400, 'The source may not read this', found, { problems: [{ path, message: found }] });
}
