/**
 * A field of a step's form. `list` is a comma-separated text, `map` lines of `value = word`, `yaml` a structure,
 * `tables` one of the uploaded tables.
 */
export interface StepFormField {
  readonly name: string;
  readonly label: string;
  readonly kind: 'text' | 'list' | 'map' | 'choice' | 'yaml' | 'tables';
  readonly choices?: readonly string[];
  readonly wide?: boolean;
}

const from = { name: 'from', label: 'Field', kind: 'text' } as const;
const under = { name: 'under', label: 'Names begin with', kind: 'text' } as const;

/** The form of each kind of step but `extract`, which has an editor of its own, and the options it begins with. */
export const stepForms: Readonly<
  Record<string, { readonly fields: readonly StepFormField[]; readonly initial: Readonly<Record<string, unknown>> }>
> = {
  extract: { fields: [], initial: { from: 'body', template: '' } },
  'parse-json': { fields: [from, under], initial: { from: 'body' } },
  'parse-pairs': { fields: [from, under], initial: { from: 'body' } },
  'parse-csv': {
    fields: [
      from,
      { name: 'columns', label: 'Columns in order, such as gauge, at:iso, height:number', kind: 'list', wide: true },
      { name: 'separator', label: 'Separator', kind: 'text' },
    ],
    initial: { from: 'body', columns: ['first', 'second'] },
  },
  'parse-query': { fields: [from, under], initial: { from: 'path', under: 'query' } },
  'set-time': {
    fields: [
      from,
      {
        name: 'format',
        label: 'Format: iso, clf, epoch, epoch-ms, syslog, time or dd.MM.yyyy HH:mm:ss',
        kind: 'text',
        wide: true,
      },
      { name: 'zone', label: 'Time zone, if the time has none', kind: 'text' },
    ],
    initial: { from: 'at' },
  },
  'set-severity': {
    fields: [from, { name: 'map', label: 'Other values, one per line: value = severity', kind: 'map' }],
    initial: { from: 'level' },
  },
  rename: {
    fields: [
      { name: 'from', label: 'From', kind: 'text' },
      { name: 'to', label: 'To', kind: 'text' },
    ],
    initial: { from: 'old', to: 'new' },
  },
  copy: {
    fields: [
      { name: 'from', label: 'From', kind: 'text' },
      { name: 'to', label: 'To', kind: 'text' },
    ],
    initial: { from: 'body', to: 'original' },
  },
  remove: {
    fields: [{ name: 'fields', label: 'Fields, separated by commas', kind: 'list', wide: true }],
    initial: { fields: ['field'] },
  },
  'keep-only': {
    fields: [
      { name: 'fields', label: 'Fields, separated by commas; * matches any characters', kind: 'list', wide: true },
    ],
    initial: { fields: ['*'] },
  },
  convert: {
    fields: [
      { name: 'field', label: 'Field', kind: 'text' },
      {
        name: 'to',
        label: 'To',
        kind: 'choice',
        choices: ['text', 'number', 'int', 'flag', 'duration', 'size', 'ip', 'place'],
      },
      { name: 'unit', label: 'Unit of plain numbers', kind: 'text' },
    ],
    initial: { field: 'took', to: 'duration' },
  },
  compute: {
    fields: [
      { name: 'set', label: 'Field', kind: 'text' },
      { name: 'to', label: 'Is', kind: 'text', wide: true },
      { name: 'as', label: 'Measures', kind: 'choice', choices: ['duration', 'size'] },
    ],
    initial: { set: 'label', to: 'upper(kind) & "-" & number' },
  },
  map: {
    fields: [
      from,
      { name: 'table', label: 'Table', kind: 'tables' },
      { name: 'values', label: 'Or values, one per line: value = result', kind: 'map' },
      { name: 'to', label: 'Field that gets the result', kind: 'text' },
      { name: 'otherwise', label: 'For all other values', kind: 'text' },
    ],
    initial: { from: 'code', values: { a: 'A' }, to: 'name' },
  },
  'read-agent': { fields: [from, under], initial: { from: 'agent', under: 'agent' } },
  locate: { fields: [from, under], initial: { from: 'client', under: 'place' } },
  mask: {
    fields: [
      { name: 'fields', label: 'Fields; body is one, * means all', kind: 'list' },
      {
        name: 'find',
        label: 'What to mask; empty: the whole value',
        kind: 'choice',
        choices: ['card', 'email', 'token', 'ip'],
      },
      { name: 'after', label: 'Or what follows', kind: 'text' },
      { name: 'with', label: 'By', kind: 'choice', choices: ['hash', 'last-four', 'remove'] },
    ],
    initial: { fields: ['body'], find: 'card', with: 'last-four' },
  },
  'drop-body': { fields: [], initial: {} },
  'template-body': {
    fields: [{ name: 'template', label: 'Text with {fields}', kind: 'text', wide: true }],
    initial: { template: '{method} {path} → {status}' },
  },
  'join-lines': {
    fields: [
      { name: 'starts', label: 'First line matches', kind: 'text' },
      { name: 'continues', label: 'Or: continuation lines match', kind: 'text' },
    ],
    initial: { continues: '^\\s' },
  },
  'split-array': {
    fields: [from, { name: 'to', label: 'Name of an item', kind: 'text' }],
    initial: { from: 'items', to: 'item' },
  },
  choose: {
    fields: [
      { name: 'branches', label: 'Branches: when, and the steps of each', kind: 'yaml' },
      { name: 'otherwise', label: 'Steps for all others', kind: 'yaml' },
    ],
    initial: { branches: [{ when: 'kind = a', steps: [{ remove: { fields: ['noise'] } }] }] },
  },
};

/** Steps that can fail for an event, and so ask what shall become of it. */
export const failingKinds: ReadonlySet<string> = new Set([
  'extract',
  'parse-json',
  'parse-pairs',
  'parse-csv',
  'parse-query',
  'set-time',
  'set-severity',
  'convert',
  'compute',
  'map',
  'locate',
  'template-body',
  'split-array',
]);
