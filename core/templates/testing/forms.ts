/** Lines of one form, as programs write them, and the template that is right for them. */
export interface Form {
  readonly name: string;
  readonly line: (i: number) => string;
  readonly right: string;
}

const two = (n: number): string => String(n % 60).padStart(2, '0');
const pick = <Value>(i: number, values: readonly Value[]): Value => values[i % values.length] as Value;
const messages = [
  'ready for connections on the quay',
  'could not open the ledger: no such file',
  'retrying (2 of 5) in a moment, the pilot is away',
  'cache warmed',
  'slow answer from berth planner; it took longer than planned',
  'user mara signed in again after a while',
  'shutting down',
];
const message = (i: number): string => pick(i, messages);
const address = (i: number): string => `192.0.2.${(i % 200) + 1}`;
const clf = (i: number): string => `24/Nov/2026:08:15:${two(i)} +0000`;
const path = (i: number): string => pick(i, ['/fares', `/book/${i}`, '/css/site.css', `/old?day=${i}`]);
const request = (i: number): string => `"GET ${path(i)} HTTP/1.1" ${pick(i, [200, 200, 404, 502])} ${i * 37 + 1}`;
const loggers = ['berth.Planner', 'berth.web.Fares', 'store.Ledger'];
const threads = ['main', 'http-8080-exec-3', 'worker 2'];

/**
 * Forms that the demo and the kits do not have: what servers, package tools, kernels and the loggers of languages write, with
 * places and names of our own.
 */
export const forms: readonly Form[] = [
  {
    name: 'access lines with how long it took',
    line: (i) => `${address(i)} - ${pick(i, ['-', 'u12'])} [${clf(i)}] ${request(i)} "-" "Kiosk/${i % 3}" 0.0${two(i)}`,
    right:
      '{client} {} {user?} [{at:clf}] "{method} {path} HTTP/{version}" {status:int} {bytes?:bytes} "{referrer?}" "{agent?}" {took:seconds}',
  },
  {
    name: 'access lines behind the name of the site',
    line: (i) =>
      `${pick(i, ['www', 'kiosk'])}.skerry.example:443 ${address(i)} - - [${clf(i)}] ${request(i)} "-" "Kiosk/${i % 3}"`,
    right:
      '{host}:{port:int} {client} {} {user?} [{at:clf}] "{method} {path} HTTP/{version}" {status:int} {bytes?:bytes} "{referrer?}" "{agent?}"',
  },
  {
    name: 'errors of a web server',
    line: (i) =>
      `2026/11/24 08:15:${two(i)} [${pick(i, ['error', 'warn'])}] 311#${311 + (i % 4)}: *${i + 7} ${message(i)}, client: ${address(i)}, server: kiosk.skerry.example`,
    right: '{at:time} [{level}] {pid:int}#{thread:int}: *{connection:int} {message:rest}',
  },
  {
    name: 'errors of a web server with modules and threads',
    line: (i) =>
      `[Tue Nov 24 08:15:${two(i)}.12345${i % 10} 2026] [${pick(i, ['core', 'proxy'])}:${pick(i, ['error', 'notice'])}] [pid ${300 + (i % 3)}:tid ${9000 + i}] AH0${1000 + i}: ${message(i)}`,
    right: '[{at:time}] [{module}:{level}] [pid {pid:int}:tid {tid:int}] {code}: {message:rest}',
  },
  {
    name: 'a relational database',
    line: (i) => `2026-11-24  8:15:${two(i)} ${i % 5} [${pick(i, ['Note', 'Warning', 'ERROR'])}] ${message(i)}`,
    right: '{at:time} {thread:int} [{level}] {message:rest}',
  },
  {
    name: 'another relational database',
    line: (i) =>
      `2026-11-24 08:15:${two(i)}.25${i % 10} UTC [${400 + (i % 7)}] ${pick(i, ['LOG', 'ERROR', 'FATAL'])}:  ${message(i)}`,
    right: '{at:time} [{pid:int}] {level}: {message:rest}',
  },
  {
    name: 'the kernel',
    line: (i) =>
      `[${String(i * 3).padStart(5, ' ')}.${100000 + i}] ${pick(i, ['usb 1-1', 'eth0', 'EXT4-fs (vda)'])}: ${message(i)}`,
    right: '[ {uptime:number}] {message:rest}',
  },
  {
    name: 'system messages with the host and the process',
    line: (i) => `Nov 24 08:15:${two(i)} quay ${pick(i, ['tide-watch', 'gate', 'pilot'])}[${500 + i}]: ${message(i)}`,
    right: '{at:syslog} {host} {program}[{pid:int}]: {message:rest}',
  },
  {
    name: 'logins of a remote shell',
    line: (i) =>
      `Nov 24 08:15:${two(i)} quay sshd[${500 + i}]: Accepted publickey for ${pick(i, ['mara', 'ole', 'finn'])} from ${address(i)} port ${40000 + i} ssh2`,
    right:
      '{at:syslog} {host} {program}[{pid:int}]: Accepted publickey for {word} from {client:ip} port {port:int} ssh2',
  },
  {
    name: 'jobs by the clock',
    line: (i) =>
      `2026-11-24T08:${two(i)}:01.12345${i % 10}+00:00 quay CRON[${500 + i}]: (${pick(i, ['root', 'harbour'])}) CMD (${pick(i, ['run-parts /srv/hourly', '/srv/bin/tides --all', 'test -x /srv/x && /srv/x'])})`,
    right: '{at:iso} {host} {program}[{pid:int}]: ({word}) CMD ({word2})',
  },
  {
    name: 'a package tool',
    line: (i) =>
      `2026-11-24 08:15:${two(i)} status ${pick(i, ['installed', 'unpacked', 'half-configured'])} lib${pick(i, ['rope', 'tide', 'gate'])}:amd64 1.${i}-1`,
    right: '{at:iso} status {word} {word2} {word3}',
  },
  {
    name: 'a browser',
    line: (i) =>
      `[${700 + (i % 3)}:${700 + (i % 5)}:1124/0815${two(i)}.12345${i % 10}:${pick(i, ['ERROR', 'WARNING'])}:${pick(i, ['gpu_init.cc', 'bus.cc'])}(${i + 40})] ${message(i)}`,
    right: '[{pid:int}:{thread:int}:{at:time}:{level}:{file}({line:int})] {message:rest}',
  },
  {
    name: 'Java, with the thread and the logger',
    line: (i) =>
      `2026-11-24 08:15:${two(i)},12${i % 10} ${pick(i, ['INFO ', 'WARN ', 'ERROR'])} [${pick(i, threads)}] ${pick(i, loggers)} - ${message(i)}`,
    right: '{at:time} {level} [{thread}] {logger} - {message:rest}',
  },
  {
    name: 'Java, with the process',
    line: (i) =>
      `2026-11-24T08:15:${two(i)}.12${i % 10}Z ${pick(i, [' INFO', ' WARN', 'ERROR'])} 1 --- [${pick(i, threads)}] ${pick(i, loggers)} : ${message(i)}`,
    right: '{at:iso} {level} {pid:int} --- [{thread}] {logger} : {message:rest}',
  },
  {
    name: 'Python, with dashes',
    line: (i) =>
      `2026-11-24 08:15:${two(i)},12${i % 10} - ${pick(i, ['fares', 'berths', 'store.ledger'])} - ${pick(i, ['INFO', 'WARNING', 'ERROR'])} - ${message(i)}`,
    right: '{at:time} - {logger} - {level} - {message:rest}',
  },
  {
    name: 'Python, as it comes',
    line: (i) => `${pick(i, ['INFO', 'WARNING', 'ERROR'])}:${pick(i, ['root', 'fares'])}:${message(i)}`,
    right: '{level}:{logger}:{message:rest}',
  },
  {
    name: 'Go',
    line: (i) => `2026/11/24 08:15:${two(i)} ${pick(i, ['fares.go', 'store.go'])}:${i + 20}: ${message(i)}`,
    right: '{at:time} {file}:{line:int}: {message:rest}',
  },
  {
    name: 'a service of the system, by its journal',
    line: (i) => `2026-11-24T08:15:${two(i)}+0000 quay systemd[1]: ${pick(i, ['Started', 'Stopped'])} ${message(i)}.`,
    right: '{at:iso} {host} {program}[{pid:int}]: {message:rest}',
  },
];
