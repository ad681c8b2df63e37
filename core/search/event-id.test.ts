import fc from 'fast-check';
import { expect, test } from 'vitest';
import { eventId, eventIdPattern, timeOfEventId } from './event-id.ts';
import type { StoredEvent } from './found-event.ts';

const event: StoredEvent = {
  time: 1_795_680_000_123.5,
  received: 1_795_680_000_124,
  severity: 9,
  weight: 1,
  size: 210,
  source: 'gates',
  emitter: 'gate-p1-01',
  body: 'opened by ticket',
  attributes: { lane: 'north', took: 0.25, open: true },
  tier: 'rest',
  units: { took: 'duration' },
};

test('an event keeps its id wherever it is and in whatever order its fields are read', () => {
  const id = eventId(event);
  expect(id).toMatch(eventIdPattern);
  expect(timeOfEventId(id)).toBe(1_795_680_000_123);
  const moved = { ...event, tier: 'passing', attributes: { took: 0.25, open: true, lane: 'north' } };
  expect(eventId(moved)).toBe(id);
});

test('whatever it says tells it apart', () => {
  const others: readonly Partial<StoredEvent>[] = [
    { time: event.time + 0.25 },
    { severity: 13 },
    { source: 'tides' },
    { emitter: '' },
    { body: 'opened by a ticket' },
    { attributes: { lane: 'north', took: 0.25 } },
    { attributes: { ...event.attributes, open: 'true' } },
  ];
  expect(new Set([event, ...others.map((other) => ({ ...event, ...other }))].map(eventId)).size).toBe(8);
});

test('what is no id has no time', () => {
  fc.assert(
    fc.property(fc.string(), (text) => {
      fc.pre(!eventIdPattern.test(text));
      expect(timeOfEventId(text)).toBeUndefined();
    }),
  );
});
