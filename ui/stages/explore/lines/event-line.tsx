import type { WordNode } from '#core/conditions/ast.ts';
import type { EventRecord } from '#core/events/batch.ts';
import { severityWord } from '#core/events/severity.ts';
import { clock, inOtherZone } from '../../../kit/times/times.ts';

/** Lengths of the tick that stands for severity, by word. */
const ticks: Readonly<Record<string, number>> = {
  unset: 2,
  trace: 3,
  debug: 5,
  info: 8,
  warn: 13,
  error: 18,
  fatal: 24,
};

/** A tick that grows with severity; the word is beside it. */
export function SeverityTick({ severity }: { readonly severity: string }) {
  return (
    <span
      aria-hidden="true"
      className="h-[3px] shrink-0 self-center bg-ink"
      style={{ width: ticks[severity] ?? ticks.unset }}
    />
  );
}

/** One event in one line: its severity as a tick and a word, when, whose, and what it says. */
export function EventLine(props: {
  readonly event: EventRecord;
  readonly words: readonly WordNode[];
  readonly open: boolean;
  readonly onToggle: () => void;
  /** How far it is from another event, before its time. */
  readonly distance?: string;
}) {
  const { event, distance } = props;
  const columns = distance === undefined ? 'grid-cols-[26px_96px_42px_1fr]' : 'grid-cols-[26px_104px_96px_42px_1fr]';
  const severity = severityWord(event.severity);
  return (
    <button
      type="button"
      aria-expanded={props.open}
      onClick={props.onToggle}
      className={`line grid w-full ${columns} items-baseline gap-x-1 py-[3px] pr-2 text-left ${props.open ? 'bg-sheet' : 'hover:bg-land/40'}`}
    >
      <SeverityTick severity={severity} />
      {distance !== undefined && <span className="pr-3 text-right whitespace-nowrap text-second">{distance}</span>}
      <time className="text-second" title={inOtherZone(event.time)}>
        {clock(event.time)}
      </time>
      <span className="font-sans text-[12px] text-second">{severity === 'unset' ? '' : severity}</span>
      <span className="truncate">
        <b className="font-[650]">{event.source}</b>
        {event.weight > 1 && <span className="text-mark"> ≈ {Math.round(event.weight)} ×</span>}{' '}
        <Marked text={event.body || inShort(event)} words={props.words} />
      </span>
    </button>
  );
}

/** What stands for a body that was dropped: the fields. */
function inShort(event: EventRecord): string {
  return Object.entries(event.attributes)
    .map(([name, value]) => `${name}=${value}`)
    .join(' ');
}

function Marked({ text, words }: { readonly text: string; readonly words: readonly WordNode[] }) {
  const found = words
    .filter((word) => word.text !== '')
    .map((word) => word.text.replace(/[.+?^${}()|[\]\\]/g, '\\$&').replaceAll('*', '\\S*'));
  if (found.length === 0) return text;
  const pieces = text.split(new RegExp(`(${found.join('|')})`, 'gi'));
  return pieces.map((piece, index) => {
    const key = `${index} ${piece}`;
    return index % 2 === 1 ? (
      <mark key={key} className="rounded-[2px] bg-land text-inherit">
        {piece}
      </mark>
    ) : (
      <span key={key}>{piece}</span>
    );
  });
}
