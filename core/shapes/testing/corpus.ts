import { seededRandom } from '../../routing/route.ts';

/** Lines of known shapes: line `i` is of shape `shapeOf[i]`. */
export interface Corpus {
  readonly lines: readonly string[];
  readonly shapeOf: Int32Array;
}

const words = (
  'accept account active adapter agent anchor answer apply archive arrive assign attach balance ballast batch bay beacon ' +
  'berth bind board book bridge broker buffer build cabin cable cache call cancel cargo carry cast channel charge chart ' +
  'check claim clear client close coast code commit compare confirm connect consumer control convoy copy count course ' +
  'cover create crew cross current cycle daemon deck declare decode deliver depart deploy deposit detach device dispatch ' +
  'dock draft drain drift drop dump echo edge elect emit encode engine enter entry evict exchange expire export fail ' +
  'fault feed ferry fetch fill filter flag fleet flow flush fog forward frame freight gate gauge grant group guard gust ' +
  'halt handle harbour hash hatch haul head heartbeat helm hold hook horn hull idle import index inspect invoice issue ' +
  'join keel key lane latch launch leader lease leave ledger level lift limit link list load lock login loop manifest ' +
  'map mark mast match merge meter migrate missing moor mount move node notify offer open orbit order outage owner pack ' +
  'page paint park parse part passenger path pause pay peer pier pilot ping plan poll pool port post price probe process ' +
  'promote prune publish pull pump purge push queue quota quote ramp range rate read ready rebuild receive reef refresh ' +
  'refund register reject release reload remove render renew repair replay reply report request reserve reset resolve ' +
  'restore retry return revoke ring roll rope rotate route rudder sail sample save scan schedule score seal search send ' +
  'serve session settle shard share sheet shift ship sign signal skip sleep slot snapshot sort spill split spool stage ' +
  'stall start station step stop store stream strike submit swap sweep switch sync table tag take target task tear tenant ' +
  'thread ticket tide timer token topic tow track trade trail transfer trim trip trust tug tunnel turn unload unlock ' +
  'update upload vault verify vessel visit voyage wait wake warm watch wave weigh winch wind window worker wrap write yard'
).split(' ');

const syllables = ['an', 'bel', 'cor', 'dun', 'el', 'fin', 'gar', 'hol', 'is', 'jor', 'kel', 'lun', 'mor', 'nes', 'or'];

type Random = () => number;

function pick<Value>(random: Random, list: readonly Value[]): Value {
  return list[Math.floor(random() * list.length)] as Value;
}

const whole = (random: Random, most: number): number => Math.floor(random() * most);

/** What may stand in a hole; each gives the values of one hole. */
const holes: readonly ((random: Random) => () => string)[] = [
  (random) => () => String(whole(random, 100_000)),
  (random) => () => (random() * 100).toFixed(3),
  (random) => () => `${whole(random, 900)}ms`,
  (random) => () => `192.0.2.${whole(random, 255)}`,
  (random) => () => `203.0.113.${whole(random, 255)}:${whole(random, 65_000)}`,
  (random) => () => `node-${whole(random, 40)}`,
  (random) => () =>
    Array.from({ length: 4 }, () => whole(random, 0x10000).toString(16).padStart(4, '0')).join('') + whole(random, 10),
  (random) => () => `/${pick(random, words)}/${pick(random, words)}`,
  (random) => () => `2026-11-${10 + whole(random, 19)}T${10 + whole(random, 13)}:${10 + whole(random, 49)}:00Z`,
  (random) => named(random, 12),
  (random) => named(random, 40),
  (random) => named(random, 400),
  (random) => () => `"${Array.from({ length: 5 + whole(random, 4) }, () => pick(random, words)).join(' ')}"`,
];

/** Names of letters alone, from a list of so many; some lists write them small. */
function named(random: Random, count: number): () => string {
  const isSmall = random() < 0.3;
  const names = Array.from({ length: count }, () => {
    const name = Array.from({ length: 2 + whole(random, 3) }, () => pick(random, syllables)).join('');
    return isSmall ? name : name[0]?.toUpperCase() + name.slice(1);
  });
  return () => pick(random, names);
}

/** A kind of line: what gives one after the other. */
function kindOfLine(random: Random): () => string {
  const isPairs = random() < 0.25;
  const head = pick(random, ['', '', '[worker] ', 'INFO ', 'WARN ']);
  const parts = Array.from({ length: 3 + whole(random, 7) }, (_, i): (() => string) => {
    const isHole = i > 0 && random() < 0.4;
    const word = pick(random, words);
    if (!isHole) return () => word;
    const hole = pick(random, holes)(random);
    const key = pick(random, words);
    return isPairs ? () => `${key}=${hole()}` : hole;
  });
  return () => head + parts.map((part) => part()).join(' ');
}

/** How much rarer a kind of line is than those before it (G. K. Zipf: as one over its rank, to this power). */
const skew = 1.1;

/** Lines of services, each with its own kinds of lines; how often these come falls steeply. */
export function corpus(count: number, services: number, kindsEach: number, seed: number): Corpus {
  const random = seededRandom(seed);
  const kinds = Array.from({ length: services * kindsEach }, () => kindOfLine(random));
  let sum = 0;
  const ends = kinds.map((_, rank) => (sum += 1 / (rank + 1) ** skew));
  const shapeOf = new Int32Array(count);
  const lines = Array.from({ length: count }, (_, i) => {
    const at = random() * sum;
    const kind = Math.min(
      kinds.length - 1,
      ends.findIndex((end) => at < end),
    );
    shapeOf[i] = kind;
    return (kinds[kind] as () => string)();
  });
  return { lines, shapeOf };
}

/**
 * The share of lines whose group is exactly that of their shape (J. Zhu et al., "Tools and benchmarks for automated log
 * parsing", 2019: grouping accuracy).
 */
export function groupingAccuracy(shapeOf: Int32Array, groupOf: readonly string[]): number {
  const byShape = new Map<number, Map<string, number>>();
  const sizes = new Map<string, number>();
  shapeOf.forEach((shape, i) => {
    const group = groupOf[i] as string;
    sizes.set(group, (sizes.get(group) ?? 0) + 1);
    const groups = byShape.get(shape) ?? new Map<string, number>();
    byShape.set(shape, groups.set(group, (groups.get(group) ?? 0) + 1));
  });
  let right = 0;
  for (const groups of byShape.values()) {
    const [[group, count] = ['', 0], ...others] = groups;
    if (others.length === 0 && sizes.get(group) === count) right += count;
  }
  return right / shapeOf.length;
}
