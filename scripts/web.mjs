import { createServer } from 'node:http';
import next from 'next';

const hostname = '127.0.0.1';
const port = Number(process.env.WEB_PORT);

/** What the application knows; of others, such as `TRACE`, the framework could not even make a request. */
const methods = ['GET', 'HEAD', 'OPTIONS', 'POST', 'PUT', 'DELETE'];

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
  methods.includes(request.method) ? handle(request, response) : refuse(response),
);
// Longer than clients keep a connection that they mean to use again.
server.keepAliveTimeout = 65_000;
server.listen(port, hostname);
