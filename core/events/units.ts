/** What a number measures: durations are in seconds, sizes in bytes. */
export type Unit = 'none' | 'duration' | 'size';

/** A quantity as it was written: its value in base units and what it measures. */
export interface Quantity {
  readonly value: number;
  readonly unit: Unit;
}

const durations: Readonly<Record<string, number>> = {
  ns: 1e-9,
  us: 1e-6,
  µs: 1e-6,
  ms: 1e-3,
  s: 1,
  m: 60,
  h: 3600,
  d: 86_400,
  w: 604_800,
};

const sizes: Readonly<Record<string, number>> = {
  b: 1,
  kb: 1e3,
  mb: 1e6,
  gb: 1e9,
  tb: 1e12,
  kib: 1024,
  mib: 1024 ** 2,
  gib: 1024 ** 3,
  tib: 1024 ** 4,
};

const shape = /^([+-]?(?:\d+\.?\d*|\.\d+)(?:e[+-]?\d+)?)\s*([a-zµ]*)$/i;

/** Reads `250ms`, `3MB`, `17` or `1.5h`; undefined when the text is no number with a known unit. */
export function parseQuantity(text: string): Quantity | undefined {
  const parts = shape.exec(text.trim());
  if (!parts) return undefined;
  const value = Number(parts[1]);
  const name = parts[2] ?? '';
  if (name === '') return { value, unit: 'none' };
  const seconds = durations[name];
  if (seconds !== undefined) return { value: scaled(value, seconds), unit: 'duration' };
  const bytes = sizes[name.toLowerCase()];
  return bytes === undefined ? undefined : { value: value * bytes, unit: 'size' };
}

/** Keeps `250ms` at exactly 0.25: dividing by a whole number rounds once, multiplying by 0.001 would round twice. */
function scaled(value: number, factor: number): number {
  return factor < 1 ? value / Math.round(1 / factor) : value * factor;
}

/** A duration such as `4h` or `1h 30m` in milliseconds; undefined when it is not one. */
export function parseDuration(text: string): number | undefined {
  let total = 0;
  const pieces = text.trim().split(/\s+(?=[\d.])/);
  for (const piece of pieces) {
    const quantity = parseQuantity(piece);
    if (quantity?.unit !== 'duration') return undefined;
    total += quantity.value;
  }
  return Number.isFinite(total) ? Math.round(total * 1000) : undefined;
}

const durationSteps: readonly (readonly [string, number])[] = [
  ['d', 86_400],
  ['h', 3600],
  ['min', 60],
];

/** A duration in seconds in words of at most two parts: `4 h 10 min`, `212 ms`, `8.02 s`, `15 d`. */
export function formatDuration(seconds: number): string {
  const size = Math.abs(seconds);
  const sign = seconds < 0 ? '−' : '';
  if (size === 0) return '0 s';
  if (size < 1e-3) return `${sign}${short(size * 1e6)} µs`;
  if (size < 1) return `${sign}${short(size * 1e3)} ms`;
  if (size < 60) return `${sign}${short(size)} s`;
  for (let i = 0; i < durationSteps.length; i++) {
    const [name, length] = durationSteps[i] as readonly [string, number];
    if (size < length) continue;
    const whole = Math.floor(size / length);
    const [restName, restLength] = durationSteps[i + 1] ?? ['s', 1];
    const rest = Math.floor((size - whole * length) / restLength);
    return rest > 0 ? `${sign}${whole} ${name} ${rest} ${restName}` : `${sign}${whole} ${name}`;
  }
  return `${sign}${short(size)} s`;
}

const sizeSteps: readonly (readonly [string, number])[] = [
  ['TB', 1e12],
  ['GB', 1e9],
  ['MB', 1e6],
  ['kB', 1e3],
];

/** A number of bytes with its unit: `41.8 GB`, `640 B`. */
export function formatBytes(bytes: number): string {
  for (const [name, length] of sizeSteps) {
    if (Math.abs(bytes) >= length * 0.9995) return `${short(bytes / length)} ${name}`;
  }
  return `${Math.round(bytes)} B`;
}

/** A count with thousands separated by commas; fractions only below ten. */
export function formatCount(count: number): string {
  if (!Number.isFinite(count)) return '–';
  return (Math.abs(count) < 10 ? Math.round(count * 100) / 100 : Math.round(count)).toLocaleString('en-US');
}

function short(value: number): string {
  const digits = Math.abs(value) >= 99.95 ? 0 : Math.abs(value) >= 9.995 ? 1 : 2;
  return value
    .toFixed(digits)
    .replace(/(\.\d*?)0+$/, '$1')
    .replace(/\.$/, '');
}
