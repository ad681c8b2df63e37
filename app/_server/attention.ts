import {
  type Attention,
  attentionFromHealth,
  attentionFromLedger,
  attentionFromQuarantine,
} from '#core/health/attention.ts';
import { sumLedger } from '#store/ledger.ts';
import { countQuarantine } from '#store/quarantine.ts';
import { readHealth } from './health.ts';
import { store } from './store.ts';

const hour = 3_600_000;
const day = 24 * hour;
/** For how long an answer is given again, in milliseconds: every open screen asks every few seconds. */
const freshFor = 15_000;

let last: { readonly at: number; readonly answer: Promise<readonly Attention[]> } | undefined;

/** What needs someone at `now` (milliseconds), from the health of sources and the ledger of the last two weeks. */
export async function readAttention(now: number): Promise<readonly Attention[]> {
  if (!last || now - last.at > freshFor) {
    const answer = gather(now);
    last = { at: now, answer };
    // A failure is not given again.
    answer.catch(() => (last = undefined));
  }
  return await last.answer;
}

async function gather(now: number): Promise<readonly Attention[]> {
  const [hours, health, aside] = await Promise.all([
    sumLedger(store(), { from: now - 14 * day, to: now + hour }, ['source', 'parsed'], hour),
    readHealth(),
    countQuarantine(store()),
  ]);
  const silent = (health?.followed ?? []).flatMap(({ source, emitter, health: { state, reason, since } }) =>
    emitter === '' && state === 'silent' ? [{ source, reason, since: since ?? now }] : [],
  );
  return [
    ...attentionFromHealth(silent, health?.groups ?? []),
    ...attentionFromQuarantine(aside),
    ...attentionFromLedger(hours, now),
  ];
}
