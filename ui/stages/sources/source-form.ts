import { type ObjectSchema, object, string } from 'yup';
import { type JoinRule, patternProblem, stackTraceRule } from '#core/formats/join.ts';
import { compileTemplate } from '#core/templates/template.ts';
import { conditionShape, nameShape } from '../../data/source-requests.ts';
import { labelsFault, readLabels } from './labels.ts';

/** What is typed to make a source; which of the fields count is up to its kind. */
export interface SourceFields {
  readonly kind: string;
  readonly name: string;
  readonly owner: string;
  readonly labels: string;
  readonly accepts: string;
  readonly globs: string;
  readonly join: string;
  readonly begins: string;
  readonly url: string;
  readonly path: string;
}

/** Patterns of files, one a line. */
export function readGlobs(text: string): readonly string[] {
  return text
    .split('\n')
    .map((line) => line.trim())
    .filter((line) => line !== '');
}

function globsFault(text: string): string | undefined {
  const wrong = readGlobs(text).find((glob) => !glob.startsWith('/'));
  return wrong === undefined ? undefined : `${wrong} is not an absolute path: begin with /.`;
}

/** Labels as they are typed. */
export const labelsText = string()
  .defined()
  .test(
    'labels',
    ({ value }) => labelsFault(String(value)) ?? '',
    (text) => labelsFault(text ?? '') === undefined,
  );

/** Patterns of files as they are typed. */
export const globsText = string()
  .required('Enter a file pattern.')
  .test(
    'globs',
    ({ value }) => globsFault(String(value)) ?? '',
    (text) => globsFault(text ?? '') === undefined,
  );

/** The address of a list of objects. */
export const addressText = string()
  .required('Enter the address of the list.')
  .matches(/^(https?|file):\/\//, 'An address begins with http://, https:// or file://.');

const pathText = string()
  .defined()
  .test('path', 'Not a line template.', (text) => !text || compileTemplate(text).ok);

const patternText = string()
  .defined()
  .required('Enter a pattern for the first line of a record.')
  .test('pattern', 'Not a pattern.', (text) => !text || patternProblem(text) === undefined);

const any = string().defined();

/** What is asked of the fields of a new source of some kind. */
export function sourceShape(kind: string, join: string): ObjectSchema<SourceFields> {
  return object({
    kind: any,
    name: nameShape,
    owner: string().defined().max(64, 'At most 64 characters.'),
    labels: labelsText,
    accepts: kind === 'syslog' ? conditionShape.defined() : any,
    globs: kind === 'files' ? globsText : any,
    join: any,
    begins: kind === 'files' && join === 'own' ? patternText : any,
    url: kind === 'objects' ? addressText : any,
    path: kind === 'objects' ? pathText : any,
  });
}

/** How lines are joined, as it was chosen. */
export function joinRuleOf(join: string, begins: string): JoinRule | undefined {
  if (join === 'traces') return stackTraceRule;
  return join === 'own' ? { starts: begins } : undefined;
}

/** What the API is sent to make the source. */
export function newSourceOf(fields: SourceFields): object {
  const { kind, name, owner, labels } = fields;
  const syslogOnly = kind === 'syslog' ? { accepts: fields.accepts || `app = ${name}` } : {};
  return { kind, name, owner, labels: readLabels(labels), settings: settingsOf(fields), ...syslogOnly };
}

function settingsOf({ kind, globs, join, begins, url, path }: SourceFields): object {
  if (kind === 'files') {
    const rule = joinRuleOf(join, begins);
    return { globs: readGlobs(globs), ...(rule && { join: rule }) };
  }
  return kind === 'objects' ? { url, ...(path !== '' && { path }) } : {};
}
