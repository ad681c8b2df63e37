import { describe, expect, test } from 'vitest';
import { noticeJoin } from './notice-join.ts';

const java = `java.lang.IllegalStateException: berth 4 is taken
	at fleet.planner.Berths.assign(Berths.java:214)
	at fleet.planner.Planner.run(Planner.java:88)
	at java.base/java.lang.Thread.run(Thread.java:840)
Caused by: java.io.IOException: no answer from quay
	at fleet.quay.Client.ask(Client.java:51)
	... 2 more`;
const python = `Traceback (most recent call last):
  File "/srv/tides/gauge.py", line 41, in read
    return float(text)
           ^^^^^^^^^^^
ValueError: could not convert string to float: 'n/a'

During handling of the above exception, another exception occurred:

Traceback (most recent call last):
  File "/srv/tides/main.py", line 12, in <module>
    read(line)
tides.errors.GaugeError: gauge t-4 sent no number`;
const go = `panic: runtime error: index out of range [4] with length 4

goroutine 17 [running]:
main.(*Quay).Lane(0xc000010240, 0x4)
	/srv/gates/quay.go:57 +0x1d
main.main()
	/srv/gates/main.go:21 +0x65
created by main.start in goroutine 1
	/srv/gates/main.go:14 +0x2f
exit status 2`;
const node = `TypeError: Cannot read properties of undefined (reading 'fare')
    at priceOf (/srv/booking/price.js:18:22)
    at async /srv/booking/server.js:77:5 {
  code: 'FARE_UNKNOWN'
}`;
const dotnet = `System.InvalidOperationException: Sequence contains no elements
   at System.Linq.ThrowHelper.ThrowNoElementsException()
   at Fares.Table.First() in /src/Fares/Table.cs:line 31
 ---> System.Exception: table is empty
   --- End of inner exception stack trace ---`;
const ruby = `NoMethodError (undefined method \`berth' for nil):
app/models/crossing.rb:31:in \`berth_of'
app/controllers/crossings_controller.rb:12:in \`show'
	from /usr/lib/ruby/gems/3.1/action.rb:44:in \`call'`;

const heads: Readonly<Record<string, (n: number, text: string) => string>> = {
  'a date and time': (n, text) => `2026-11-30T09:1${n}:02.113Z ERROR planner - ${text}`,
  'dates with slashes': (n, text) => `2026/11/30 09:1${n}:02 ${text}`,
  'dates with dots': (n, text) => `30.11.2026 09:1${n}:02 [main] ${text}`,
  'a severity': (n, text) => `ERROR: ${text} (${n})`,
  'a logger of Ruby': (n, text) => `E, [2026-11-30T09:1${n}:02.113 #17] ERROR -- : ${text}`,
  'a logger of Go': (n, text) => `E1130 09:1${n}:02.113 17 quay.go:57] ${text}`,
  syslog: (n, text) => `Nov 30 09:1${n}:02 pier-4 planner[17]: ${text}`,
};

const traces = { java, python, go, node, dotnet, ruby };

describe.each(Object.entries(traces))('a trace of %s', (_, trace) => {
  test.each(Object.entries(heads))('behind lines with %s is one record with the line before it', (_, head) => {
    const lines = [0, 1, 2, 3].flatMap((n) => [head(n, 'accepted'), head(n + 4, 'failed'), ...trace.split('\n')]);
    const noticed = noticeJoin(lines);
    expect(noticed?.records).toBe(8);
    expect(noticed?.example.split('\n')[0]).toBe(head(4, 'failed'));
    const rest = trace.split('\n').filter((line) => line !== '');
    expect(noticed?.example.split('\n').slice(1)).toEqual(rest);
  });

  test('behind lines that begin with nothing that is known belongs to the line before it', () => {
    const lines = ['berth 3 is free', 'berth 4 failed', ...trace.split('\n'), 'berth 5 is free', 'berth 6 is free'];
    const noticed = noticeJoin(lines);
    // What a panic of Go says first stands for itself.
    expect(noticed?.records).toBe(trace === go ? 5 : 4);
    expect(noticed?.title).toBe('stack traces');
  });
});

test.each([
  ['lines that stand for themselves', ['2026-11-30T09:10:00Z a', '2026-11-30T09:10:01Z b', '2026-11-30T09:10:02Z c']],
  ['lines of two programs', ['2026-11-30T09:10:00Z a', 'gate opened', '2026-11-30T09:10:02Z c', 'gate closed']],
  ['JSON', ['{"a":1}', '{"a":2}', '{"b":[1]}']],
  ['nothing', []],
  ['one line', ['ERROR once']],
])('%s are not joined', (_, lines) => {
  expect(noticeJoin(lines)).toBeUndefined();
});

test('records of which first lines are rare among long traces are found', () => {
  const long = Array.from({ length: 60 }, (_, i) => `\tat fleet.Deep.call${i}(Deep.java:${i})`);
  const lines = ['2026-11-30 09:10:00,113 ERROR a', java, ...long, '2026-11-30 09:10:01,200 ERROR b', java, ...long];
  expect(noticeJoin(lines.join('\n').split('\n'))).toMatchObject({ records: 2, title: 'a date and time' });
});
