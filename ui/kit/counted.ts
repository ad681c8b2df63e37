import { formatCount } from '#core/events/units.ts';

/** A count with its noun: `1 group`, `12 groups`. */
export function counted(count: number, one: string, many = `${one}s`): string {
  return `${formatCount(count)} ${count === 1 ? one : many}`;
}
