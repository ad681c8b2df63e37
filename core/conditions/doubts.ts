import { severityRange, severityWords, unknownSeverity } from '../events/severity.ts';
import { parseQuantity, type Unit } from '../events/units.ts';
import { nearest } from '../patterns/nearest.ts';
import type { ConditionNode, ConditionValue, Span } from './ast.ts';
import { visit } from './condition.ts';
import type { FieldNode } from './evaluate.ts';
import { parseCondition, unknownFields } from './parse.ts';

/** What is valid and probably not meant so, where it is, and what may be meant instead. */
export interface Doubt extends Span {
  readonly message: string;
  readonly suggestion?: string;
}

/** The names that there are. An absent list is not known: nothing is doubted by it. */
export interface KnownNames {
  readonly fields?: readonly string[] | undefined;
  readonly sources?: readonly string[] | undefined;
  readonly tiers?: readonly string[] | undefined;
  readonly fleets?: readonly string[] | undefined;
}

/**
 * What of a condition can hardly be meant as it stands: names that nothing has, words that are no severity, units that do
 * not exist. `status > 2q` gives “there is no unit q”. A wrong condition gives none: it has a problem already.
 */
export function conditionDoubts(text: string, known: KnownNames): readonly Doubt[] {
  const { node, problem } = parseCondition(text);
  if (problem) return [];
  const doubts: Doubt[] = known.fields ? [...unknownFields(text, known.fields)] : [];
  visit(node, (part) => {
    if ('field' in part) doubts.push(...valueDoubts(part, known));
  });
  return [...doubts, ...looseUnits(text)].sort((a, b) => a.start - b.start);
}

function valueDoubts(node: FieldNode, known: KnownNames): readonly Doubt[] {
  const values = valuesOf(node);
  switch (node.field.toLowerCase()) {
    case 'source':
      return values.flatMap((value) => unknownName(value, known.sources, 'source'));
    case 'tier':
      return values.flatMap((value) => unknownName(value, known.tiers, 'tier'));
    case 'fleet':
      return values.flatMap((value) => unknownName(value, known.fleets, 'fleet'));
    case 'severity':
      return values.flatMap(unknownSeverityWord);
    case 'time':
    case 'received':
      return [];
    default:
      return [
        ...(isOrdered(node) ? values.flatMap(unknownUnit) : []),
        ...values.flatMap((value) => otherUnit(value, node.field)),
      ];
  }
}

function valuesOf(node: FieldNode): readonly ConditionValue[] {
  switch (node.kind) {
    case 'compare':
      return [node.value];
    case 'in':
      return node.values;
    case 'range':
      return [node.low, node.high].filter((value) => value !== undefined);
    default:
      return [];
  }
}

function isOrdered(node: ConditionNode): boolean {
  return node.kind === 'range' || (node.kind === 'compare' && node.operator !== '=' && node.operator !== '!=');
}

function unknownName(value: ConditionValue, known: readonly string[] | undefined, what: string): readonly Doubt[] {
  const { text, quoted } = value;
  const isPattern = !quoted && text.includes('*');
  if (!known || isPattern || known.some((name) => name.toLowerCase() === text.toLowerCase())) return [];
  return [doubt(value, `there is no ${what} ${text}`, nearest(text, known))];
}

function unknownSeverityWord(value: ConditionValue): readonly Doubt[] {
  if (value.number !== undefined || severityRange(value.text)) return [];
  return [doubt(value, `there is no severity ${value.text}`, nearest(value.text, [...severityWords, unknownSeverity]))];
}

const numberWithLetters = /^([+-]?[\d.]+)\s*([a-zµ]+)$/i;

function unknownUnit(value: ConditionValue): readonly Doubt[] {
  const [, number = '', unit = ''] = value.quoted ? [] : (numberWithLetters.exec(value.text) ?? []);
  if (unit === '' || parseQuantity(value.text)) return [];
  const short = shortUnits.get(unit.toLowerCase());
  return [doubt(value, `there is no unit ${unit}`, short && `${number}${short}`)];
}

/** What words at the end of a field's name say that its numbers are counted in, in seconds and in bytes. */
const namedUnits: readonly (readonly [unit: Unit, size: number, title: string, words: readonly string[]])[] = [
  ['duration', 1e-9, 'nanoseconds', ['ns', 'nanos', 'nanoseconds']],
  ['duration', 1e-6, 'microseconds', ['us', 'µs', 'micros', 'microseconds']],
  ['duration', 1e-3, 'milliseconds', ['ms', 'msec', 'millis', 'milliseconds']],
  ['duration', 60, 'minutes', ['min', 'mins', 'minutes']],
  ['duration', 3_600, 'hours', ['hr', 'hrs', 'hours']],
  ['size', 1e3, 'kB', ['kb', 'kilobytes']],
  ['size', 1e6, 'MB', ['mb', 'megabytes']],
  ['size', 1e9, 'GB', ['gb', 'gigabytes']],
  ['size', 1_024, 'KiB', ['kib']],
  ['size', 1_024 ** 2, 'MiB', ['mib']],
];

/** A value with a unit is compared in seconds or bytes; a field whose name says that it counts in another one is met by none. */
function otherUnit(value: ConditionValue, field: string): readonly Doubt[] {
  const { number, unit, text } = value;
  if (number === undefined || number === 0 || unit === undefined || unit === 'none') return [];
  const last = /([a-zµ]+)$/.exec(field.replace(/([a-z\d])([A-Z])/g, '$1_$2').toLowerCase())?.[1] ?? '';
  const named = namedUnits.find(([of, , , words]) => of === unit && words.includes(last));
  if (!named || last === field.toLowerCase()) return [];
  const [, size, title] = named;
  const base = unit === 'size' ? 'bytes' : 'seconds';
  const message = `by its name ${field} counts ${title}, but ${text} is compared as ${number}, in ${base}`;
  return [doubt(value, message, String(Number((number / size).toPrecision(12))))];
}

function doubt({ start, end }: Span, message: string, suggestion: string | undefined): Doubt {
  return { start, end, message, ...(suggestion && { suggestion }) };
}

/** What units are written as in full, and how they are written here. */
const shortUnits: ReadonlyMap<string, string> = new Map(
  (
    [
      ['ms', 'msec millisecond milliseconds'],
      ['s', 'sec secs second seconds'],
      ['m', 'min mins minute minutes'],
      ['h', 'hr hrs hour hours'],
      ['d', 'day days'],
      ['w', 'week weeks'],
      ['B', 'byte bytes'],
    ] as const
  ).flatMap(([short, long]) => long.split(' ').map((word) => [word, short] as const)),
);

/** Units that stand apart from their number are looked for in bodies, as any other word. */
function looseUnits(text: string): readonly Doubt[] {
  const { tokens } = parseCondition(text);
  return tokens.flatMap((token, index) => {
    const before = tokens[index - 1];
    const word = text.slice(token.start, token.end);
    const short = shortUnits.get(word.toLowerCase()) ?? (parseQuantity(`1${word}`) ? word : undefined);
    if (token.kind !== 'text' || before?.kind !== 'value' || short === undefined) return [];
    const number = text.slice(before.start, before.end);
    if (!/^[+-]?\d[\d.]*$/.test(number)) return [];
    return [
      doubt(
        { start: before.start, end: token.end },
        `the word ${word} is looked for in the bodies`,
        `${number}${short}`,
      ),
    ];
  });
}
