import { day } from '#core/events/time-units.ts';

/** Events in one delivery. */
const inOneDelivery = 50_000;

/**
 * Sends this many events to an intake (`http://…/intake/name`), spread evenly over the last three days, in two lanes. Resolves
 * when all are acknowledged.
 */
export async function sendManyEvents(intake: string, token: string, events: number): Promise<void> {
  const start = Date.now() - 2.8 * day;
  const step = (2.7 * day) / events;
  let next = 0;
  const lane = async (): Promise<void> => {
    for (let first = next; first < events; first = next) {
      next += inOneDelivery;
      const lines = Array.from({ length: inOneDelivery }, (_, i) => {
        const time = new Date(start + (first + i) * step).toISOString();
        return `{"time":"${time}","msg":"buoy ${i % 40} rides ${(first + i) % 977} waves","buoy":${i % 40}}`;
      });
      const answer = await fetch(intake, {
        method: 'POST',
        headers: { authorization: `Bearer ${token}`, 'content-type': 'application/x-ndjson' },
        body: lines.join('\n'),
      });
      if (!answer.ok) throw new Error(`The intake answered ${answer.status}: ${await answer.text()}`);
    }
  };
  await Promise.all([lane(), lane()]);
}
