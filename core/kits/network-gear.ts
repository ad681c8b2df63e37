import { entryOf, type StarterKit } from './kit.ts';

const tagged = '%{group}-{level:int}-{code}: {message:rest}';

/** Syslog of switches and routers. */
export const networkGear: StarterKit = {
  id: 'network-gear',
  title: 'Network gear syslog',
  help: 'Takes group, code and severity out of messages that begin with %GROUP-LEVEL-CODE:, and the port out of messages about links; other messages stay as they are.',
  fits: (line) => /^<\d{1,3}>/.test(line) && /%[A-Z0-9_]+-\d-[A-Z0-9_]+:|\b(port|interface|link)\b/i.test(line),
  pipeline: (source) => ({
    ...entryOf('network-gear', source),
    title: `Network gear of ${source}`,
    steps: [
      { extract: { from: 'body', template: tagged }, when: 'body matches /^%/' },
      {
        'set-severity': {
          from: 'level',
          map: {
            '0': 'fatal',
            '1': 'fatal',
            '2': 'error',
            '3': 'error',
            '4': 'warn',
            '5': 'info',
            '6': 'info',
            '7': 'debug',
          },
        },
        when: 'has level',
      },
      {
        extract: {
          from: 'body',
          templates: ['port {port:int} link {state}', 'port {port:int} {errors:int} frame errors in {} s'],
        },
        when: 'body matches /^port \\d+ (link|\\d+ frame)/',
      },
    ],
    tests: [
      {
        name: 'a tagged message',
        input: '<189>Jan 15 11:59:02 pier3-sw1 swd: %LINK-3-DOWN: port 7 lost its carrier',
        expect: {
          group: 'LINK',
          code: 'DOWN',
          message: 'port 7 lost its carrier',
          severity: 'error',
          emitter: 'pier3-sw1',
        },
      },
      {
        name: 'a link that came up',
        input: '<190>Jan 15 11:59:02 pier3-sw1 netd[12]: port 7 link up',
        expect: { port: 7, state: 'up' },
      },
    ],
  }),
};
