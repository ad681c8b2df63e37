import type { Chance } from '../chance.ts';
import type { DemoSource } from '../source.ts';
import { address, ports, reference, rhythm } from '../world.ts';

function request(chance: Chance, time: number): string {
  const failed = chance.often(0.012);
  const status = failed ? chance.pick([500, 502, 503]) : chance.pick([200, 200, 200, 200, 201, 404, 409]);
  const took = failed ? chance.took(4_000) : chance.took(70);
  return JSON.stringify({
    time: new Date(time).toISOString(),
    level: failed ? 'error' : status >= 400 ? 'warn' : 'info',
    message: failed ? `upstream payments did not answer within ${took} ms` : `${status} for ${reference(chance)}`,
    host: `api-${chance.whole(1, 4)}`,
    http: {
      method: chance.pick(['GET', 'GET', 'POST']),
      route: chance.pick(['/bookings', '/bookings/{ref}', '/sailings', '/quotes']),
      status,
    },
    took_ms: took,
    client: chance.pick(['web', 'app', 'kiosk', 'harbour-partner', 'isles-travel']),
    ip: address(chance),
    port: chance.pick(ports),
    user_id: `u${chance.whole(10_000, 12_999)}`,
  });
}

/** The booking API: structured JSON lines. */
export const bookingApi: DemoSource = {
  name: 'booking-api',
  transport: 'http',
  owner: 'booking',
  labels: { site: 'cloud', environment: 'prod' },
  accepts: '',
  kinds: [{ perHour: (time) => 1150 * rhythm(time), line: request }],
};
