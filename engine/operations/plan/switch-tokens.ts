import { createHash, randomBytes } from 'node:crypto';
import type { SwitchTokensAnswer } from '#core/answers/switches.ts';
import { operations } from '#core/operations/index.ts';
import {
  removeSwitchToken as deleteToken,
  listSwitchTokens,
  addSwitchToken as storeToken,
} from '#store/plan/switch-tokens.ts';
import { command, question } from '../handler.ts';
import { Refusal } from '../refusal.ts';

/** Most tokens for switching. */
const mostTokens = 100;

export const switchTokens = question(
  operations.switchTokens,
  async (_input, { database }): Promise<SwitchTokensAnswer> => ({
    tokens: (await listSwitchTokens(database.db)).map(({ id, title, hint, createdAt }) => ({
      id,
      title,
      hint,
      createdAt,
    })),
  }),
);

export const addSwitchToken = command(operations.addSwitchToken, {
  subject: ({ title }) => title,
  carryOut: async ({ title }, { tx, now }) => {
    if ((await listSwitchTokens(tx)).length >= mostTokens)
      throw new Refusal(409, 'Too many tokens', `There may be ${mostTokens}. End one that nobody uses.`);
    const token = `otter_switch_${randomBytes(20).toString('base64url')}`;
    const hash = createHash('sha256').update(token).digest('hex');
    await storeToken(tx, { hash, title, hint: token.slice(-4), createdAt: now });
    return { token };
  },
});

export const removeSwitchToken = command(operations.removeSwitchToken, {
  subject: ({ id }) => String(id),
  carryOut: async ({ id }, { tx }) => {
    if (!(await deleteToken(tx, id))) throw new Refusal(404, '', 'There is no such token.');
    return {};
  },
});
