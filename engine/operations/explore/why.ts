import type { WhyAnswer } from '#core/answers/why.ts';
import { operations } from '#core/operations/index.ts';
import { parseMeasure } from '#core/why/measure.ts';
import type { Period } from '#core/why/periods.ts';
import { isCountedByLedger } from '../../search/ledger-figures.ts';
import { runWhy } from '../../search/run-why.ts';
import type { Why } from '../../search/why-answer.ts';
import type { ReadSources } from '../../usage/read-sources.ts';
import { usedInSources } from '../../usage/uses.ts';
import { question } from '../handler.ts';
import { Refusal } from '../refusal.ts';
import type { OperationServices } from '../services.ts';
import { changesAround } from './changes-around.ts';
import { checkedQuery, searchSetting, timeOf } from './search.ts';

export const why = question(
  operations.why,
  async (asked, services, { signal, progress, isFollowed }): Promise<WhyAnswer> => {
    const started = performance.now();
    const window = await checkedWindow(services, asked, { from: asked.from, to: asked.to });
    const { condition } = window;
    const parsed = parseMeasure(asked.measure);
    if (!parsed.ok)
      throw new Refusal(400, '', parsed.problem.message, { problem: { in: 'measure', ...parsed.problem } });
    const { besideFrom: from, besideTo: to } = asked;
    if ((from === undefined) !== (to === undefined))
      throw new Refusal(400, '', 'Set both besideFrom and besideTo, or neither.');
    const beside =
      from !== undefined && to !== undefined ? await checkedWindow(services, asked, { from, to }) : undefined;
    const prices = parsed.measure.isCost ? await services.costs.prices(Date.now()) : undefined;
    if (parsed.measure.isCost && !prices) throw new Refusal(400, '', 'There are no prices. Set them under Costs.');
    if (parsed.measure.isReceived && !isCountedByLedger(condition, parsed.measure))
      throw new Refusal(400, '', onlyCounted);
    services.measures.searches++;
    const question = {
      ...{ condition, measure: parsed.measure, measureText: asked.measure },
      ...{ window: window.period, beside: beside?.period, prices },
      tape: { plan: services.plan.current().plan, tables: services.directory.tables },
      onSources: (read: ReadSources) =>
        services.usage.note(usedInSources('why', { condition, summary: '' }, read, Date.now())),
    };
    const answerOf = async (why: Why): Promise<WhyAnswer> => ({
      ...why,
      ...(prices && { currency: prices.currency }),
      around: why.began === undefined ? [] : await changesAround(services, why.began),
      tookMs: Math.round(performance.now() - started),
    });
    // Each answer waits for the one before, so that they come in order.
    let reported = Promise.resolve();
    const follow = (why: Why): void => {
      reported = reported.then(async () => progress(await answerOf(why))).catch(() => {});
    };
    const last = await inBounds(() =>
      runWhy(searchSetting(services), question, { signal, ...(isFollowed && { progress: follow }) }),
    );
    await reported;
    return await answerOf(last);
  },
);

const onlyCounted =
  'What was received is only counted by source, fleet, tier, shape and severity. Leave other fields and words out of the condition, or choose events or bytes.';

/** Most explanations at a time: each holds its sampled events in memory. */
const mostAtATime = 6;
let underWay = 0;

async function inBounds<Answer>(explain: () => Promise<Answer>): Promise<Answer> {
  if (underWay >= mostAtATime)
    throw new Refusal(429, '', `${mostAtATime} explanations are running, the most at a time. Retry in a few seconds.`);
  underWay++;
  try {
    return await explain();
  } finally {
    underWay--;
  }
}

/** A window as it was asked for, and the condition whose saved searches gave way; refuses those that are wrong. */
async function checkedWindow(
  services: OperationServices,
  { condition }: { readonly condition: string },
  { from, to }: { readonly from: string | number; readonly to: string | number },
): Promise<{ readonly condition: string; readonly period: Period }> {
  const now = Date.now();
  const period = { from: timeOf(from, now), to: timeOf(to, now) };
  const query = { condition, ...period, summary: '', limit: 0, buckets: 0, fields: false };
  return { condition: (await checkedQuery(services, query)).condition, period };
}
