import type { EmittersAnswer, RatesView, RateView } from '#core/answers/sources.ts';
import { parseTime } from '#core/conditions/times.ts';
import { hour, week } from '#core/events/time-units.ts';
import { parseDuration } from '#core/events/units.ts';
import { operations } from '#core/operations/index.ts';
import { ledgerWindow } from '#core/routing/ledger.ts';
import { amountOf } from '#core/routing/volume-sums.ts';
import { listDrifts } from '#store/sources/drifts.ts';
import { planEmitter as storePlans, sumEmitterVolume } from '#store/sources/emitters.ts';
import { removeFleet as deleteFleet, listFleets, saveFleet as storeFleet } from '#store/sources/fleets.ts';
import { addMaintenance, removeMaintenance as deleteMaintenance, listMaintenance } from '#store/sources/maintenance.ts';
import { sumLedger } from '#store/volume/ledger.ts';
import { command, question } from '../handler.ts';
import { Refusal } from '../refusal.ts';
import { healthAnswer } from './health-answer.ts';

export const emitterVolumes = question(
  operations.emitterVolumes,
  async ({ from: first, to: last, source }, { database }): Promise<EmittersAnswer> => {
    const now = Date.now();
    const from = parseTime(first, now);
    const to = parseTime(last, now);
    if (from === undefined || to === undefined || from >= to || from >= now)
      throw new Refusal(
        400,
        'This is not a time window',
        'Write from=-1d and to=now, or times such as 2026-11-24T08:15.',
      );
    const window = ledgerWindow({ from, to }, now);
    const byHour = { from: Math.floor(from / hour) * hour, to: Math.min(now, Math.ceil(to / hour) * hour) };
    const one = source === undefined ? {} : { source };
    const [ofSources, byEmitters] = await Promise.all([
      sumLedger(database, { ...window, ...one }, ['source'], 0),
      sumEmitterVolume(database, byHour, source),
    ]);
    const sources = ofSources.map((sum) => ({ ...sum, source: sum.source ?? '', name: '' }));
    return {
      sources: ratesOver(window, sources, sources),
      emitters: ratesOver(
        byHour,
        byEmitters.filter(({ name }) => name !== ''),
        byEmitters.filter(({ name }) => name === ''),
      ),
    };
  },
);

type Sent = Pick<RateView, 'source' | 'name' | 'events' | 'bytes'>;

/** What was sent in a window as rates, the largest first, of all that `sources` sent. */
function ratesOver(
  window: { readonly from: number; readonly to: number },
  sent: readonly Sent[],
  sources: readonly Sent[],
): RatesView {
  const seconds = (window.to - window.from) / 1000;
  const rows = sent.map(({ source, name, events, bytes }) => {
    return { source, name, events, bytes, eventsPerSecond: events / seconds, bytesPerSecond: bytes / seconds };
  });
  return { ...window, bytes: amountOf(sources).bytes, rows: rows.sort((a, b) => b.bytes - a.bytes) };
}

export const planEmitter = command(operations.planEmitter, {
  subject: ({ source, emitter }) => `${source} ${emitter}`,
  carryOut: async ({ source, emitter, ...plans }, { tx }) => {
    await storePlans(tx, { source, name: emitter }, plans);
    return {};
  },
});

export const health = question(operations.health, async ({ source }, services) =>
  healthAnswer(services.health, services.directory, Date.now(), source),
);

export const drift = question(operations.drift, async ({ source }, { database }) => ({
  drifts: await listDrifts(database, Date.now() - week, source),
}));

export const fleets = question(operations.fleets, async (_input, { database }) => ({
  fleets: await listFleets(database),
}));

export const saveFleet = command(operations.saveFleet, {
  subject: ({ name }) => name,
  carryOut: async (fleet, { tx }) => {
    await storeFleet(tx, fleet);
    return {};
  },
});

export const removeFleet = command(operations.removeFleet, {
  subject: ({ name }) => name,
  carryOut: async ({ name }, { tx }) => {
    if (!(await deleteFleet(tx, name))) throw new Refusal(404, '', `There is no fleet ${name.slice(0, 100)}.`);
    return {};
  },
});

export const maintenance = question(operations.maintenance, async (_input, { database }) => ({
  windows: await listMaintenance(database),
}));

export const announceMaintenance = command(operations.announceMaintenance, {
  subject: ({ title }) => title,
  carryOut: async ({ title, scope, from, length, schedule }, { tx }) => {
    const duration = parseDuration(length) ?? 0;
    const to = schedule === '' ? from + duration : null;
    await addMaintenance(tx, { title, scope, from, to, schedule, length: duration });
    return {};
  },
});

export const removeMaintenance = command(operations.removeMaintenance, {
  subject: ({ id }) => String(id),
  carryOut: async ({ id }, { tx }) => {
    if (!(await deleteMaintenance(tx, id))) throw new Refusal(404, '', 'There is no such maintenance window.');
    return {};
  },
});
