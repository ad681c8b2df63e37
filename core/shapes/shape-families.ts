import { severityFromText } from '../events/severity.ts';
import type { DecidedShape } from './decided-shape.ts';
import { longerForms, secondParts, shorterForms } from './forms.ts';
import { keyOf, type Shape, ShapeIndex, withWordHoles } from './shape-index.ts';
import { fieldsMark, isHole, isWord, type Skeleton, valueHole } from './token.ts';

/** Most shapes that are told apart. */
export const mostShapes = 20_000;

/** What a new skeleton changed: shapes that are new or have new holes, and those that were found to be part of another one. */
export interface ShapeChange {
  readonly put: readonly Shape[];
  /** As {@link DecidedShape}: a skeleton only where it is another form of the shape. */
  readonly merged: readonly (Shape & { readonly into: string })[];
}

/** Among how many shapes with the same marks others with the same second parts are looked for; beyond that for none. */
const mostCompared = 500;

/** Shapes that are alike but for some places, by their ids; how much speaks for these being holes. */
interface Family {
  readonly members: Set<string>;
  evidence: number;
}

const nothing: ShapeChange = { put: [], merged: [] };

/**
 * Learns which words of lines vary. Shapes that are the same but for one word are a family; where its words are many, as
 * measured by how much else the lines share, the word is a hole and the family one shape, which keeps the id of its oldest.
 * So holes are found by the variety of what is in them rather than by a threshold of likeness (compare P. He et al.,
 * "Drain: an online log parsing approach with fixed depth tree", 2017, whose constraint on length and first constants is
 * here the frame of marks and blanks): lines that differ in one telling word stay apart however long they are.
 */
export class ShapeFamilies {
  readonly index = new ShapeIndex();
  private readonly families = new Map<string, Family>();

  /** Takes in what was learnt before. */
  constructor(shapes: Iterable<DecidedShape> = []) {
    for (const { id, skeleton, into } of shapes) {
      if (into === undefined) this.enter({ id, skeleton });
      else if (skeleton.length > 0) this.index.put({ id, skeleton });
    }
  }

  /**
   * Learns of a skeleton that was met under an id. Where it belongs to a shape that is known, the id is merged into that
   * one; beyond {@link mostShapes} nothing is learnt.
   */
  learn({ id, skeleton }: Shape): ShapeChange {
    if (this.index.get(id)) return nothing;
    const known = this.index.find(skeleton);
    if (known) return { put: [], merged: [{ id, skeleton: [], into: known.id }] };
    if (this.index.size >= mostShapes) return nothing;
    const put = new Map<string, Shape>();
    const merged = new Map<string, string>();
    let added: Shape | undefined = { id, skeleton };
    while (added) {
      put.set(added.id, added);
      const ripe: Skeleton | undefined = this.enter(added) ?? this.ripeBySecondPart(added);
      added = ripe && this.merge(ripe, put, merged);
    }
    const forms = [...put.values()].flatMap((shape) => this.formsWith(shape));
    for (const form of forms) {
      put.delete(form.id);
      this.leave(form);
      this.index.put(form);
    }
    const parts = [...merged].map(([from, into]) => ({ id: from, skeleton: [], into }));
    return { put: [...put.values()], merged: [...parts, ...forms] };
  }

  /** What a new shape is another form of, or which shapes are other forms of it. */
  private formsWith(shape: Shape): readonly (Shape & { readonly into: string })[] {
    for (const shorter of shorterForms(shape.skeleton)) {
      const standard = this.index.find(shorter);
      if (standard) return [{ ...shape, into: standard.id }];
    }
    return longerForms(shape.skeleton).flatMap((longer) => {
      const other = this.index.find(longer);
      return other ? [{ ...other, into: shape.id }] : [];
    });
  }

  /**
   * What a shape and others are together where a mark joins second parts to names or values: as soon as one of the parts is a
   * value all are holes, unless one of them is a severity.
   */
  private ripeBySecondPart({ skeleton }: Shape): Skeleton | undefined {
    for (const place of secondParts(skeleton)) {
      const widened = withWordHoles(skeleton, [place - 2, place]);
      const members = this.index.covered(widened, mostCompared).map((shape) => shape.skeleton);
      const parts = members.map((member) => member[place] as string);
      const vary = members.some((member) => isHole(member[place - 2] as string));
      const isRipe = vary && parts.includes(valueHole) && parts.some(isWord);
      if (isRipe && parts.every((part) => severityFromText(part) === 0)) return widened;
    }
    return undefined;
  }

  /** Puts a shape into its families; returns the first of them that is one shape. */
  private enter(shape: Shape): Skeleton | undefined {
    this.index.put(shape);
    let ripe: Skeleton | undefined;
    for (const places of familyPlaces(shape.skeleton)) {
      const widened = withWordHoles(shape.skeleton, places);
      const key = keyOf(widened);
      let family = this.families.get(key);
      if (!family) this.families.set(key, (family = { members: new Set(), evidence: 0 }));
      if (family.members.has(shape.id)) continue;
      family.members.add(shape.id);
      family.evidence += evidenceOf(shape.skeleton, places);
      if (family.members.size > 1 && family.evidence >= neededFor(widened)) ripe ??= widened;
    }
    return ripe;
  }

  private leave(shape: Shape): void {
    this.index.remove(shape.id);
    for (const places of familyPlaces(shape.skeleton)) {
      const key = keyOf(withWordHoles(shape.skeleton, places));
      const family = this.families.get(key);
      if (!family?.members.delete(shape.id)) continue;
      family.evidence -= evidenceOf(shape.skeleton, places);
      if (family.members.size === 0) this.families.delete(key);
    }
  }

  /** Makes one shape of a family. */
  private merge(skeleton: Skeleton, put: Map<string, Shape>, merged: Map<string, string>): Shape | undefined {
    const members = this.index.covered(skeleton);
    const [oldest = members[0]?.id ?? ''] = this.families.get(keyOf(skeleton))?.members ?? [];
    for (const member of members) this.leave(member);
    // There may be a shape with more holes, of which this one is a part.
    const same = this.index.find(skeleton);
    const into = same?.id ?? oldest;
    for (const { id } of members) {
      if (id === into) continue;
      put.delete(id);
      merged.set(id, into);
    }
    // What was merged into one of them before goes along.
    for (const [from, to] of merged) if (merged.has(to)) merged.set(from, into);
    return same ? undefined : { id: into, skeleton };
  }
}

/** The places of a skeleton that may be holes for words: each alone, and all names together. */
function familyPlaces(skeleton: Skeleton): readonly (readonly number[])[] {
  if (skeleton[0] === fieldsMark) return [];
  const alone = skeleton.flatMap((token, place) =>
    (token === valueHole || isWord(token)) && severityFromText(token) === 0 ? [[place]] : [],
  );
  const names = alone.filter(([place = 0]) => isName(skeleton, place)).flat();
  return names.length > 1 ? [...alone, names] : alone;
}

/** Whether a word is a name, as far as its first letters tell: a capital within a line. */
function isName(skeleton: Skeleton, place: number): boolean {
  return place > 0 && /^\p{Lu}\p{Ll}/u.test(skeleton[place] as string);
}

/** How much the words at some places tell of these being holes: names tell more, and values most. */
function evidenceOf(skeleton: Skeleton, [place = 0]: readonly number[]): number {
  if (skeleton[place] === valueHole) return 3;
  return isName(skeleton, place) ? 1.5 : 1;
}

/** How much has to speak for a skeleton with holes: the less its lines share, the more. */
function neededFor(skeleton: Skeleton): number {
  const shared = skeleton.filter((token) => isWord(token)).length;
  if (shared >= 5) return 5;
  if (shared >= 3) return 7;
  if (shared >= 2) return 9;
  return shared === 1 ? 12 : 24;
}
