/**
 * Senders that mean no good, at the intake in the first argument, until they are ended: hundreds of connections that write a
 * byte a second, bodies that unfold a thousandfold, new field names without end, lines of a megabyte. Tokens are `token-` and the
 * name of the source.
 */
import { randomBytes } from 'node:crypto';
import { connect } from 'node:net';
import { setTimeout as pause } from 'node:timers/promises';
import { gzipSync } from 'node:zlib';

const intake = new URL(process.argv[2] ?? '');
/** Connections that dawdle, and how long each takes for a byte (milliseconds). */
const dawdlers = 300;
const byteEvery = 1_000;
/** Requests that each of the others has under way, and how long it rests between two (milliseconds). */
const underWay = 2;
const rest = 50;

/**
 * @param {string} source
 * @param {BodyInit} body
 * @param {Record<string, string>} headers
 */
async function post(source, body, headers = {}) {
  const authorization = `Bearer token-${source}`;
  await fetch(new URL(`/intake/${source}`, intake), { method: 'POST', headers: { authorization, ...headers }, body })
    .then((answer) => answer.arrayBuffer())
    .catch(() => undefined);
}

/** A connection that promises a body and writes it a byte at a time; when it is cut, the next one takes its place. */
function dawdle() {
  const socket = connect(Number(intake.port), intake.hostname);
  const head = [
    'POST /intake/slow HTTP/1.1',
    'Host: 127.0.0.1',
    'Authorization: Bearer token-slow',
    'Content-Length: 900',
  ];
  socket.write(`${head.join('\r\n')}\r\n\r\n{"`);
  const timer = setInterval(() => socket.write('a'), byteEvery);
  socket.on('error', () => {});
  socket.on('close', () => {
    clearInterval(timer);
    setTimeout(dawdle, byteEvery);
  });
}

/** @param {() => Promise<void>} work */
async function again(work) {
  for (;;) {
    await work();
    await pause(rest);
  }
}

/** As many events as a request may have, far too many, none at all, and more bytes than one may have. */
const bombs = [
  gzipSync(Buffer.alloc(5_900_000, '{}\n')),
  gzipSync(Buffer.alloc(60_000_000, '{}\n')),
  gzipSync(Buffer.alloc(60_000_000)),
  gzipSync(Buffer.alloc(400_000_000)),
];
const megabyte = randomBytes(500_000).toString('hex');
let bomb = 0;
let name = 0;

for (let i = 0; i < dawdlers; i++) dawdle();
for (let i = 0; i < underWay; i++) {
  void again(() => post('bombs', bombs[bomb++ % bombs.length] ?? '', { 'content-encoding': 'gzip' }));
  void again(() => post('names', Array.from({ length: 4_000 }, () => `{"name${name++}":"value ${name}"}`).join('\n')));
  void again(() => post('lines', Array.from({ length: 8 }, (_, i) => `{"msg":"${i}${megabyte}"}`).join('\n')));
}
