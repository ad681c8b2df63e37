import { severityRange, severityWords, unknownSeverity } from '../events/severity.ts';
import { parseQuantity } from '../events/units.ts';
import { nearest } from '../patterns/nearest.ts';
import type { ConditionNode, ConditionValue, Span } from './ast.ts';
import { visit } from './condition.ts';
import type { FieldNode } from './evaluate.ts';
import { parseCondition, unknownFields } from './parse.ts';

/** What is valid and probably not meant so, where it stands, and what may be meant instead. */
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
      return isOrdered(node) ? values.flatMap(unknownUnit) : [];
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
