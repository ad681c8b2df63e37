import { formatCount } from '#core/events/units.ts';
import { type FeedSecond, rhythmSeconds } from './feed.ts';

const width = 46;
/** Severity classes from which on an event is drawn as a warning, and as an error. */
const warning = 4;
const failure = 5;

/** The last minute as a spine: now at the top, each second as wide as what came in it; warnings and errors darker. */
export function Rhythm({
  seconds,
  now,
  height,
}: {
  readonly seconds: readonly FeedSecond[];
  readonly now: number;
  readonly height: number;
}) {
  const most = seconds.reduce((greatest, { matched }) => Math.max(greatest, matched), 1);
  const end = Math.floor(now / 1000);
  const step = height / rhythmSeconds;
  const scale = (events: number): number => (events / most) * (width - 6);
  return (
    <svg
      role="img"
      aria-label={`The last minute, at most ${formatCount(most)} events in a second`}
      width={width}
      height={height}
      className="shrink-0"
    >
      {seconds.map(({ second, matched, severities }) => {
        const y = (end - second) * step;
        const failures = scale(sumFrom(severities, failure));
        const warnings = scale(sumFrom(severities, warning));
        return (
          <g key={second} transform={`translate(0 ${y})`}>
            <rect x={width - scale(matched)} width={scale(matched)} height={step - 1} fill="var(--d3)" />
            <rect x={width - warnings} width={warnings} height={step - 1} fill="var(--d5)" />
            <rect x={width - failures} width={failures} height={step - 1} fill="var(--ink)" />
          </g>
        );
      })}
      <text x={width - 4} y={height - 4} textAnchor="end" fontSize="10.5" fill="var(--second)">
        1 min
      </text>
    </svg>
  );
}

function sumFrom(severities: readonly number[], first: number): number {
  return severities.slice(first).reduce((sum, events) => sum + events, 0);
}
