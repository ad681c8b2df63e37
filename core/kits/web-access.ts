import { combinedFormat as combined, commonFormat as common } from '../templates/access-formats.ts';
import { fits } from '../templates/learn.ts';
import { entryOf, type StarterKit } from './kit.ts';

/** Web access lines in the combined and common formats. */
export const webAccess: StarterKit = {
  id: 'web-access',
  title: 'Web access lines',
  help: 'Cuts access lines in the combined or common format into client, path, status and so on, reads the user agent, takes severity from the status, and drops the line itself.',
  fits: (line) => fits(combined, line) || fits(common, line),
  templates: [combined, common],
  pipeline: (source) => ({
    ...entryOf('web-access', source),
    title: `Web access of ${source}`,
    steps: [
      { extract: { from: 'body', templates: [combined, common] } },
      { 'set-time': { from: 'at' }, when: 'has at' },
      { 'parse-query': { from: 'path', under: 'query' }, when: 'path = *?*' },
      { 'read-agent': { from: 'agent', under: 'agent' }, when: 'has agent' },
      { compute: { set: 'level', to: '"error"' }, when: 'status >= 500' },
      { compute: { set: 'level', to: '"warn"' }, when: 'status in 400..499' },
      { compute: { set: 'level', to: '"info"' }, when: 'has status not has level' },
      { 'set-severity': { from: 'level' }, when: 'has level' },
      { 'template-body': { template: '{method} {path} → {status}' }, when: 'has status' },
    ],
    tests: [
      {
        name: 'a page that is not there',
        input: '192.0.2.7 - mara [15/Jan/2026:11:59:02 +0000] "GET /old?day=2 HTTP/1.1" 404 153 "-" "curl/8.5.0"',
        expect: {
          client: '192.0.2.7',
          user: 'mara',
          status: 404,
          bytes: 153,
          'query.day': '2',
          severity: 'warn',
          time: '2026-01-15T11:59:02.000Z',
          body: 'GET /old?day=2 → 404',
        },
      },
      {
        name: 'without referrer and agent',
        input: '2001:db8::7 - - [15/Jan/2026:11:59:02 +0000] "POST /book HTTP/2.0" 200 -',
        expect: { client: '2001:db8::7', method: 'POST', user: null, bytes: null, severity: 'info' },
      },
    ],
  }),
};
