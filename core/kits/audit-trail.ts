import { entryOf, type StarterKit } from './kit.ts';

/** Records of who did what. */
export const auditTrail: StarterKit = {
  id: 'audit-trail',
  title: 'Audit trail',
  help: 'Makes denied actions warnings, copies the actor for searches across sources, and hashes mail addresses, so that a person can be followed without being named.',
  fits: (line) => /"?(actor|user|principal)"?\s*[:=]/.test(line) && /"?(action|event|operation)"?\s*[:=]/.test(line),
  pipeline: (source) => ({
    ...entryOf('audit-trail', source),
    title: `Audit of ${source}`,
    steps: [
      {
        compute: { set: 'actor', to: 'first(actor, user, principal)' },
        when: 'has actor or has user or has principal',
      },
      { mask: { fields: ['*'], find: 'email', with: 'hash' } },
      { compute: { set: 'level', to: '"warn"' }, when: 'result in (denied, failed, refused)' },
      { 'set-severity': { from: 'level' }, when: 'has level' },
      { 'template-body': { template: '{actor} {action}: {result}' }, when: 'has actor has action' },
    ],
    tests: [
      {
        name: 'a denied action',
        input: '{"time":"2026-01-15T11:59:02Z","action":"price.change","user":"staff-112","result":"denied"}',
        expect: { actor: 'staff-112', severity: 'warn', body: 'staff-112 price.change: denied' },
      },
    ],
  }),
};
