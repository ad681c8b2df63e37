import { describe, expect, test } from 'vitest';
import { newSourceOf, type SourceFields, sourceShape } from './source-form.ts';

const fields: SourceFields = {
  kind: 'http',
  name: 'ticket-printer',
  owner: '',
  labels: 'site=pier-4, environment=prod',
  accepts: '',
  globs: '',
  join: '',
  begins: '',
  url: '',
  path: '',
};

function fault(more: Partial<SourceFields>): string {
  const all = { ...fields, ...more };
  try {
    sourceShape(all.kind, all.join).validateSync(all, { abortEarly: false });
    return '';
  } catch (error) {
    return error instanceof Error && 'errors' in error ? String(error.errors) : String(error);
  }
}

describe('a new source', () => {
  test.each([
    [{}, ''],
    [{ name: '' }, /Enter a name/],
    [{ name: 'Ticket Printer' }, /lower-case letters, digits and dashes/],
    [{ labels: 'site=pier-4, prod' }, /“prod” is not a label. Example: site=pier-4/],
    [{ labels: 'a b=c' }, /“a b=c” is not a label/],
    [{ kind: 'syslog', accepts: 'app =' }, /the condition is wrong: .* \(character \d+\)/],
    [{ kind: 'files' }, /Enter a file pattern/],
    [{ kind: 'files', globs: '/var/log/a.log\nlogs/*.log' }, /logs\/\*\.log is not an absolute path/],
    [{ kind: 'files', globs: '/var/log/a.log', join: 'own' }, /first line of a record/],
    [{ kind: 'files', globs: '/var/log/a.log', join: 'own', begins: '(' }, /Not a pattern/],
    [{ kind: 'objects', url: '192.0.2.1' }, /begins with http/],
    [{ kind: 'objects', url: 'http://192.0.2.1/', path: '{' }, /ot a line template/],
  ])('%j says %s', (more, message) => {
    expect(fault(more)).toMatch(message);
    if (message === '') expect(fault(more)).toBe('');
  });

  test('is sent as its kind needs it', () => {
    expect(newSourceOf({ ...fields, kind: 'syslog' })).toMatchObject({ accepts: 'app = ticket-printer' });
    const files = { ...fields, kind: 'files', globs: ' /a/*.log \n\n/b.log', join: 'own', begins: '^\\d' };
    expect(newSourceOf(files)).toMatchObject({
      labels: { site: 'pier-4', environment: 'prod' },
      settings: { globs: ['/a/*.log', '/b.log'], join: { starts: '^\\d' } },
    });
    expect(newSourceOf({ ...fields, kind: 'objects', url: 'file:///srv' })).toMatchObject({
      settings: { url: 'file:///srv' },
    });
  });
});
