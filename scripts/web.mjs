import { createServer } from 'node:http';
import next from 'next';

const hostname = '127.0.0.1';
const port = Number(process.env.WEB_PORT);

/** What the application knows; of others, such as `TRACE`, the framework could not even make a request. */
const methods = ['GET', 'HEAD', 'OPTIONS', 'POST', 'PUT', 'DELETE'];

/** @param {import('node:http').ServerResponse} response */
function refuse(response) {
  const status = 405;
  response.writeHead(status, { 'content-type': 'application/problem+json', allow: methods.join(', ') });
  const detail = `Ask with one of ${methods.join(', ')}.`;
  response.end(JSON.stringify({ type: 'about:blank', title: 'The method is not known', status, detail }));
}

const application = next({ dev: false, hostname, port });
await application.prepare();
const handle = application.getRequestHandler();
const server = createServer((request, response) =>
  methods.includes(request.method ?? '') ? handle(request, response) : refuse(response),
);
// Longer than clients keep a connection that they mean to use again.
server.keepAliveTimeout = 65_000;
server.listen(port, hostname, () => void askAhead());

/** What the stages ask when they are opened. */
const firstQuestions = [
  ...['stages', 'switches', 'plan', 'plan/draft', 'overview', 'sources', 'volume?from=-1d&by=source,parsed'],
  ...['routing', 'routing/caps', 'metrics', 'names', 'fields', 'costs/month', 'costs?by=team', 'suggestions'],
  ...['plan/revisions', 'plan/graces', 'plan/discarded'],
];
/** How long an answer is waited for (milliseconds). */
const patience = 20_000;

/** Asks each of these once after the start, so that the first visitor does not wait for cold code and caches. */
async function askAhead() {
  const lately = {
    background: true,
    condition: '',
    from: Date.now() - 3_600_000,
    to: Date.now(),
    limit: 50,
    buckets: 64,
  };
  await ask('search', { method: 'POST', body: JSON.stringify(lately) });
  for (const question of firstQuestions) await ask(question);
}

/**
 * @param {string} path
 * @param {RequestInit} options
 */
async function ask(path, options = {}) {
  const origin = `http://${hostname}:${port}`;
  const headers = { origin, 'content-type': 'application/json' };
  // A failure does not matter here: whoever asks next gets the error.
  await fetch(`${origin}/api/${path}`, { ...options, headers, signal: AbortSignal.timeout(patience) }).then(
    (answer) => answer.text(),
    () => {},
  );
}
