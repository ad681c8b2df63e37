import { operations } from '#core/operations/index.ts';
import { filesFound } from '../../intake/files/files-found.ts';
import { question } from '../handler.ts';
import { Refusal } from '../refusal.ts';

export const files = question(operations.files, async ({ patterns = '' }, { bounds }) => {
  const globs = patterns.split('\n').flatMap((pattern) => pattern.trim() || []);
  const problem = bounds.problemOf({ globs });
  if (problem !== undefined)
    throw new Refusal(400, '', problem, { problems: [{ path: 'patterns', message: problem }] });
  return await filesFound(globs, bounds);
});
