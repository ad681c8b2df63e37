import type { Chance } from '../chance.ts';
import { whereabouts } from '../crossings.ts';
import type { DemoSource } from '../source.ts';
import { vessels as names } from '../world.ts';

function otlp(time: number, severityNumber: number, body: string, attributes: Record<string, string | number>): string {
  return JSON.stringify({
    timeUnixNano: `${Math.floor(time)}000000`,
    severityNumber,
    body: { stringValue: body },
    attributes: Object.entries(attributes).map(([key, value]) => ({
      key,
      value: typeof value === 'number' ? { doubleValue: value } : { stringValue: value },
    })),
  });
}

function report(chance: Chance, time: number): string {
  const vessel = chance.pick(names);
  const hot = chance.often(0.01);
  const temperature = hot ? 96 + chance.next() * 9 : 74 + chance.next() * 9;
  const { latitude, longitude, isAtBerth } = whereabouts(vessel, time);
  return otlp(time, hot ? 13 : 9, hot ? `engine ${chance.whole(1, 2)} runs hot` : 'position report', {
    'host.name': vessel.toLowerCase().replace(' ', '-'),
    'vessel.name': vessel,
    'engine.temperature': Math.round(temperature * 10) / 10,
    'speed.knots': isAtBerth ? 0 : Math.round(120 + chance.next() * 50) / 10,
    'position.latitude': latitude,
    'position.longitude': longitude,
  });
}

/** The ferries themselves: OTLP in protobuf. */
export const vessels: DemoSource = {
  name: 'vessels',
  transport: 'otlp-protobuf',
  owner: 'fleet',
  labels: { site: 'sea', environment: 'prod' },
  accepts: '',
  kinds: [{ perHour: () => 420, line: report }],
};

function act(chance: Chance, time: number): string {
  const action = chance.pick([
    'roster.change',
    'price.change',
    'refund.approve',
    'user.login',
    'user.login',
    'report.export',
  ]);
  return otlp(time, 9, `${action} by staff-${chance.whole(100, 160)}`, {
    action,
    actor: `staff-${chance.whole(100, 160)}`,
    'client.address': `192.0.2.${chance.whole(20, 60)}`,
    result: chance.often(0.97) ? 'allowed' : 'denied',
  });
}

/** The audit trail: OTLP in JSON. */
export const audit: DemoSource = {
  name: 'audit',
  transport: 'otlp-json',
  owner: 'security',
  labels: { site: 'cloud', environment: 'prod' },
  accepts: '',
  kinds: [{ perHour: () => 85, line: act }],
};
