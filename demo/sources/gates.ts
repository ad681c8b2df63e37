import type { Chance } from '../chance.ts';
import type { DemoSource } from '../source.ts';
import { type Happenings, reference, rhythm, gates as scanners } from '../world.ts';

function scan(chance: Chance, time: number, { silence }: Happenings): string | undefined {
  const gate = chance.pick(scanners);
  const result = chance.often(0.965) ? 'open' : chance.pick(['retry', 'refused']);
  const line = `<${result === 'refused' ? 132 : 134}>1 ${new Date(time).toISOString()} ${gate.name} gate-scanner ${chance.whole(300, 900)} SCAN [gate@64500 pier="${gate.pier}" firmware="${gate.pier === 4 ? '5.1' : '5.0'}" lane="${chance.whole(1, 2)}"] ticket ${reference(chance)} ${result} in ${chance.took(320)} ms`;
  return gate.pier === 4 && time >= silence ? undefined : line;
}

function beat(chance: Chance, time: number, { silence }: Happenings): string | undefined {
  const gate = chance.pick(scanners);
  if (gate.pier === 4 && time >= silence) return undefined;
  return `<135>1 ${new Date(time).toISOString()} ${gate.name} gate-scanner ${chance.whole(300, 900)} BEAT [gate@64500 pier="${gate.pier}" firmware="${gate.pier === 4 ? '5.1' : '5.0'}"] up for ${chance.whole(1, 40)} days`;
}

/** Gate scanners on the piers: syslog of RFC 5424 with structured data. */
export const gates: DemoSource = {
  name: 'gates',
  transport: 'syslog-udp',
  owner: 'piers',
  labels: { site: 'piers', environment: 'prod' },
  accepts: 'app = gate-scanner',
  kinds: [
    { perHour: (time) => 640 * rhythm(time), line: scan },
    { perHour: () => scanners.length * 20, line: beat },
  ],
};
