import type { Chance } from '../chance.ts';
import type { DemoSource } from '../source.ts';

const months = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];

function report(chance: Chance, time: number): string {
  const date = new Date(time);
  const stamp = `${months[date.getUTCMonth()]} ${String(date.getUTCDate()).padStart(2, ' ')} ${date.toISOString().slice(11, 19)}`;
  const host = `pier${chance.whole(1, 5)}-sw${chance.whole(1, 2)}`;
  const link = `port ${chance.whole(1, 24)}`;
  const [priority, message] = chance.pick<readonly [number, string]>([
    [190, `${link} link up at 1000 Mbit`],
    [189, `${link} link down`],
    [190, `learned address 02:00:5e:10:00:${chance.whole(16, 99)} on ${link}`],
    [188, `${link} ${chance.whole(3, 90)} frame errors in 60 s`],
  ]);
  return `<${priority}>${stamp} ${host} netd[${chance.whole(100, 999)}]: ${message}`;
}

/** Switches on the piers: the older syslog of RFC 3164. */
export const pierNetwork: DemoSource = {
  name: 'pier-network',
  transport: 'syslog-tcp',
  owner: 'network',
  labels: { site: 'piers', environment: 'prod' },
  accepts: 'app = netd',
  kinds: [{ perHour: () => 230, line: report }],
};
