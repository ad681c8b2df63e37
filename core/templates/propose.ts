import { formatOf, formatsSeen } from '../formats/seen.ts';
import { combinedFormat, commonFormat } from './access-formats.ts';
import { alterTemplate } from './alter.ts';
import { countFitting } from './fit-closely.ts';
import { growTemplate } from './grow.ts';
import { mineTemplates } from './mine.ts';
import { compileTemplate, templateOf } from './template.ts';
import { writeTemplate } from './write.ts';

/** A way to read some lines, with the share of them that it fits (0 to 1). */
export interface Proposal {
  readonly kind: 'format' | 'template' | 'step';
  /** Id of the format, the text of the template, or the kind of step. */
  readonly value: string;
  readonly title: string;
  readonly share: number;
}

/** Lines looked at. */
const mostLines = 500;
/** A proposal must fit this share of the lines, and there are at most so many. */
const leastShare = 0.02;
const mostProposals = 6;
/** A bonus, as a share of lines, for templates that split the whole line instead of leaving a message. */
const worthOfWhole = 0.15;
/** The penalty for each unnamed field, and the bonus for each named one, up to a number of them. */
const costOfNameless = 0.03;
const worthOfName = 0.005;
const mostNames = 12;

const known: readonly (readonly [title: string, template: string])[] = [
  ['Combined log format', combinedFormat],
  ['Common log format', commonFormat],
];

/** What is already known of the lines. */
export interface ProposalContext {
  /** Existing templates of the step; they are extended if lines have more than they match. */
  readonly templates?: readonly string[];
}

/**
 * Proposes formats, steps and whole templates for lines, the best first: what fits most of them, and of those that fit about as
 * many what takes them apart furthest.
 */
export function propose(all: readonly string[], context: ProposalContext = {}): readonly Proposal[] {
  const lines = all.filter((line) => line.trim() !== '').slice(0, mostLines);
  if (lines.length === 0) return [];
  // A template may be incomplete while it is typed.
  const templates = (context.templates ?? []).filter((template) => compileTemplate(template).ok);
  const share = (count: number): number => count / lines.length;
  const proposals: Proposal[] = formatsSeen(lines)
    .filter(({ id }) => id !== 'text')
    .map(({ id, ...format }) => ({ kind: 'format', value: id, ...format }));
  const plain = lines.filter((line) => formatOf(line).id === 'text');
  const pairs = plain.filter((line) => (line.match(/(?:^|[\s,])[\w.@-]+=/g) ?? []).length >= 3).length;
  if (pairs > 0) proposals.push({ kind: 'step', value: 'parse-pairs', title: 'name=value pairs', share: share(pairs) });
  const existing = templates.map((template, i) => [`template ${i + 1}`, template] as const);
  const candidates = [
    ...known.filter(([, template]) => !templates.includes(template)),
    ...altered(existing, plain),
    ...grown([...existing, ...known], plain),
    ...mined(plain),
  ];
  const seen = new Set<string>(templates);
  for (const [title, template] of candidates) {
    if (seen.has(template)) continue;
    seen.add(template);
    const count = countFitting(templateOf(template), plain);
    if (count > 0) proposals.push({ kind: 'template', value: template, title, share: share(count) });
  }
  return proposals
    .filter((proposal) => proposal.share >= leastShare)
    .map((proposal, place) => ({ proposal, place, worth: worthOf(proposal) }))
    .sort((a, b) => b.worth - a.worth || a.place - b.place)
    .slice(0, mostProposals)
    .map(({ proposal }) => proposal);
}

function altered(
  templates: readonly (readonly [title: string, template: string])[],
  lines: readonly string[],
): readonly (readonly [string, string])[] {
  return templates.flatMap(([title, template]) => {
    const found = alterTemplate(template, lines);
    if (!found) return [];
    return [[`${title}, with “${found.after.trim()}” instead of “${found.before.trim()}”`, found.template] as const];
  });
}

function grown(
  templates: readonly (readonly [title: string, template: string])[],
  lines: readonly string[],
): readonly (readonly [string, string])[] {
  return templates.flatMap(([title, template]) => {
    const more = growTemplate(template, lines);
    return more ? [[`${title}, extended ${more.where}`, more.template] as const] : [];
  });
}

function mined(lines: readonly string[]): readonly (readonly [string, string])[] {
  return mineTemplates(lines).map(
    ({ pieces, endsInRest }) =>
      [endsInRest ? 'common beginning and message' : 'derived from these lines', writeTemplate(pieces)] as const,
  );
}

/** The rank of a proposal: its share of lines, plus bonuses and penalties for its fields. */
function worthOf({ kind, value, share }: Proposal): number {
  if (kind !== 'template') return share + worthOfWhole;
  const { holes } = templateOf(value);
  const nameless = holes.filter(({ name }) => /^word\d*$/.test(name)).length;
  const isWhole = !holes.some(({ type }) => type.name === 'rest');
  const named = Math.min(mostNames, holes.length - nameless);
  return share + (isWhole ? worthOfWhole : 0) - nameless * costOfNameless + named * worthOfName;
}
