import { entryOf, type StarterKit } from './kit.ts';

/** Services that write name=value pairs. */
export const pairsService: StarterKit = {
  id: 'pairs-service',
  title: 'name=value service',
  help: 'Reads name=value pairs (logfmt), takes time and severity from ts and level, and keeps the message as the body.',
  fits: (line) => (line.match(/(?:^|\s)[\w.-]+=/g) ?? []).length >= 3,
  pipeline: (source) => ({
    ...entryOf('pairs-service', source),
    title: `Pairs of ${source}`,
    steps: [
      { 'parse-pairs': { from: 'body' } },
      { 'set-time': { from: 'ts' }, when: 'has ts' },
      { 'set-severity': { from: 'level' }, when: 'has level' },
      { convert: { field: 'took', to: 'duration' }, when: 'has took' },
      { 'template-body': { template: '{msg}' }, when: 'has msg' },
      { remove: { fields: ['msg'] } },
    ],
    tests: [
      {
        name: 'a line',
        input: 'ts=2026-01-15T11:59:02Z level=warn msg="berth assigned" berth=3 took=35ms',
        expect: {
          berth: '3',
          took: 0.035,
          severity: 'warn',
          body: 'berth assigned',
          msg: null,
          time: '2026-01-15T11:59:02.000Z',
        },
      },
    ],
  }),
};
