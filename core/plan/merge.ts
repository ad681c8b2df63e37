/** A place where two people changed the same thing in different ways. Values are as they stand in the plan. */
export interface Conflict {
  /** Where, as a path: `tiers/incidents/keep`. */
  readonly path: string;
  /** What it was before both; undefined where there was nothing. */
  readonly before: unknown;
  readonly mine: unknown;
  readonly theirs: unknown;
}

/** Which side counts at a conflict. */
export type Side = 'mine' | 'theirs';

/** Two changes of the same thing put together. */
export interface Merged<Value> {
  /** Both changes; at conflicts that nobody has chosen at, theirs. */
  readonly merged: Value;
  /** Conflicts that nobody has chosen at. */
  readonly conflicts: readonly Conflict[];
}

/**
 * Puts two changes of the same value together (a three-way merge): what only one side changed is as that side has it, what
 * both changed alike is that, and the rest is a conflict. Things with an `id` (pipelines, tiers, exclusions) are told apart
 * by it, wherever they stand. `choices` says which side counts, by the path of a conflict.
 */
export function merge<Value>(
  before: Value,
  mine: Value,
  theirs: Value,
  choices: Readonly<Record<string, Side>> = {},
): Merged<Value> {
  const conflicts: Conflict[] = [];
  const merged = mergeAt('', before, mine, theirs, { choices, conflicts });
  // What is put together of values of a type is of that type.
  return { merged: merged as Value, conflicts };
}

interface Merging {
  readonly choices: Readonly<Record<string, Side>>;
  readonly conflicts: Conflict[];
}

function mergeAt(path: string, before: unknown, mine: unknown, theirs: unknown, merging: Merging): unknown {
  if (isSame(mine, theirs) || isSame(before, mine)) return theirs;
  if (isSame(before, theirs)) return mine;
  if (isRecord(mine) && isRecord(theirs) && (isRecord(before) || before === undefined))
    return mergeRecords(path, isRecord(before) ? before : {}, mine, theirs, merging);
  if (areIdentified(before, mine, theirs))
    return mergeLists(path, listOf(before), listOf(mine), listOf(theirs), merging);
  if (areAlike(before, mine, theirs)) {
    const [befores, mines] = [before as readonly unknown[], mine as readonly unknown[]];
    return (theirs as readonly unknown[]).map((value, i) =>
      mergeAt(at(path, i + 1), befores[i], mines[i], value, merging),
    );
  }
  return decide(path, before, mine, theirs, merging);
}

function decide(path: string, before: unknown, mine: unknown, theirs: unknown, merging: Merging): unknown {
  const side = merging.choices[path];
  if (side === undefined) merging.conflicts.push({ path, before, mine, theirs });
  return side === 'mine' ? mine : theirs;
}

type Fields = Readonly<Record<string, unknown>>;

function mergeRecords(path: string, before: Fields, mine: Fields, theirs: Fields, merging: Merging): Fields {
  const merged: Record<string, unknown> = {};
  for (const name of new Set([...Object.keys(theirs), ...Object.keys(mine)])) {
    const value = mergeAt(at(path, name), before[name], mine[name], theirs[name], merging);
    if (value !== undefined) merged[name] = value;
  }
  return merged;
}

type Identified = Fields & { readonly id: string };

/** Lists of things with ids: each thing is merged with itself; the order is that of the side that changed it. */
function mergeLists(
  path: string,
  before: readonly Identified[],
  mine: readonly Identified[],
  theirs: readonly Identified[],
  merging: Merging,
): readonly unknown[] {
  const by = (list: readonly Identified[]) => new Map(list.map((thing) => [thing.id, thing]));
  const [beforeOf, mineOf, theirsOf] = [by(before), by(mine), by(theirs)];
  const merged = new Map<string, unknown>();
  for (const id of new Set([...mineOf.keys(), ...theirsOf.keys()])) {
    const value = mergeAt(at(path, id), beforeOf.get(id), mineOf.get(id), theirsOf.get(id), merging);
    if (value !== undefined) merged.set(id, value);
  }
  const [orderBefore, myOrder, theirOrder] = [before, mine, theirs].map((list) =>
    list.map(({ id }) => id).filter((id) => beforeOf.has(id) && mineOf.has(id) && theirsOf.has(id)),
  );
  const order = mergeAt(at(path, 'order'), orderBefore, myOrder, theirOrder, merging);
  const base = isSame(order, myOrder) && !isSame(myOrder, theirOrder) ? [mine, theirs] : [theirs, mine];
  return placed(base[0] as readonly Identified[], base[1] as readonly Identified[]).flatMap((id) =>
    merged.has(id) ? [merged.get(id)] : [],
  );
}

/** The ids of a list, with those that only the other list has behind those that they stand behind there. */
function placed(list: readonly Identified[], other: readonly Identified[]): readonly string[] {
  const ids = list.map(({ id }) => id);
  other.forEach(({ id }, i) => {
    if (ids.includes(id)) return;
    const behind = other[i - 1]?.id;
    ids.splice(behind === undefined ? 0 : ids.indexOf(behind) + 1, 0, id);
  });
  return ids;
}

function at(path: string, name: string | number): string {
  return path === '' ? String(name) : `${path}/${name}`;
}

function isRecord(value: unknown): value is Fields {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}

function isIdentified(value: unknown): value is Identified {
  return isRecord(value) && typeof value.id === 'string';
}

function listOf(value: unknown): readonly Identified[] {
  return Array.isArray(value) ? value.filter(isIdentified) : [];
}

/** Lists of things with ids, of which one at least is not empty; a list may be absent before. */
function areIdentified(before: unknown, mine: unknown, theirs: unknown): boolean {
  const lists = [before ?? [], mine, theirs];
  return (
    lists.every((list) => Array.isArray(list) && list.every(isIdentified)) &&
    lists.some((list) => Array.isArray(list) && list.length > 0)
  );
}

/** Lists of the same length, of things without ids: what is at the same place is the same thing. */
function areAlike(before: unknown, mine: unknown, theirs: unknown): boolean {
  return (
    Array.isArray(before) &&
    Array.isArray(mine) &&
    Array.isArray(theirs) &&
    before.length === mine.length &&
    before.length === theirs.length &&
    before.every(isRecord)
  );
}

/** Whether two values of a plan are the same; the order of fields does not matter. */
export function isSame(a: unknown, b: unknown): boolean {
  if (a === b) return true;
  if (Array.isArray(a) && Array.isArray(b)) return a.length === b.length && a.every((value, i) => isSame(value, b[i]));
  if (!isRecord(a) || !isRecord(b)) return false;
  const names = Object.keys(a).filter((name) => a[name] !== undefined);
  return (
    names.length === Object.keys(b).filter((name) => b[name] !== undefined).length &&
    names.every((name) => isSame(a[name], b[name]))
  );
}
