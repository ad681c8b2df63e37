import { entryOf, type StarterKit } from './kit.ts';

/** Services that write JSON lines. */
export const structuredJson: StarterKit = {
  id: 'structured-json',
  title: 'Structured JSON service',
  help: 'JSON lines are read without a pipeline; this one masks mail addresses and tokens in them, turns milliseconds into durations, and takes out fields that only the sender needs.',
  fits: (line) => line.startsWith('{') && line.trimEnd().endsWith('}'),
  pipeline: (source) => ({
    ...entryOf('structured-json', source),
    title: `JSON of ${source}`,
    steps: [
      { mask: { fields: ['*'], find: 'email', with: 'hash' } },
      { mask: { fields: ['*'], find: 'token', with: 'remove' } },
      { convert: { field: 'duration_ms', to: 'duration', unit: 'ms' }, when: 'has duration_ms' },
      { rename: { from: 'duration_ms', to: 'took' }, when: 'has duration_ms' },
      { remove: { fields: ['pid', 'v'] } },
    ],
    tests: [
      {
        name: 'masked and shortened',
        input:
          '{"time":"2026-01-15T11:59:02Z","level":"warn","msg":"slow","duration_ms":1250,"pid":7,"note":"password=correct-horse-battery"}',
        expect: { took: 1.25, duration_ms: null, pid: null, note: 'password=•••', severity: 'warn', body: 'slow' },
      },
    ],
  }),
};
