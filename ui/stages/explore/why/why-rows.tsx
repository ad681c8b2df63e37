import Link from 'next/link';
import { formatCount, formatDuration } from '#core/events/units.ts';
import type { WhyAnswer, WhyRow } from '../../../data/answers.ts';
import { dayAndMinute, formatShown, inOtherZone } from '../../../kit/times/times.ts';
import { figureInWords, lengthOf, ratioInWords, shareInWords, whereInWords } from './in-words.ts';

/** The causes of a change, one row each; no event counts in two rows. */
export function WhyRows(props: {
  readonly answer: WhyAnswer;
  /** Whether a better answer is on its way. */
  readonly isAsking: boolean;
  readonly chosen: number;
  readonly onChoose: (place: number) => void;
}) {
  const { answer, isAsking, chosen, onChoose } = props;
  const { rows, lookedAt, rest, tiersLeftOut } = answer;
  const most = Math.max(...rows.flatMap(({ before, since }) => [before ?? 0, since ?? 0]), Number.MIN_VALUE);
  return (
    <section className="mt-3">
      <h2 className="text-[12.5px]">
        {answer.verdict === 'usual' ? 'Compared' : 'What explains it'} · {formatCount(lookedAt.fields)} fields,{' '}
        {lookedAt.values > 0 &&
          `${formatCount(lookedAt.values)} values and ${formatCount(lookedAt.pairs)} combinations, `}
        {eventsInWords(answer)}, in {formatDuration(answer.tookMs / 1000)}
        {isAsking && <span className="text-second"> · {nextInWords(answer)}</span>}
      </h2>
      {rows.length > 0 && (
        <table className="mt-1 w-full table-fixed text-left">
          <caption className="sr-only">What explains the change</caption>
          <thead className="text-[12.5px] text-second">
            <tr className="border-b border-hair">
              <th className="py-1 pl-2 font-semibold">where</th>
              <th className="w-[34%] font-semibold">before → since, in {lengthOf(answer)}</th>
              <th className="w-20 text-right font-semibold">share</th>
              <th className="w-14 text-right font-semibold">factor</th>
              <th className="w-28 pl-4 font-semibold">without it</th>
            </tr>
          </thead>
          <tbody>
            {rows.map((row, place) => (
              <Row
                key={row.condition}
                row={row}
                answer={answer}
                most={most}
                isChosen={place === chosen}
                onChoose={() => onChoose(place)}
              />
            ))}
          </tbody>
        </table>
      )}
      <p className="mt-2 text-[12.5px] text-second">
        {rows.length > 0 && `${restInWords(rest)} `}
        {tiersLeftOut.length > 0 && `Not compared: ${tiersLeftOut.join(', ')}, which does not reach back far enough.`}
      </p>
      <Around answer={answer} />
    </section>
  );
}

/** Which events the figures rest on. */
function eventsInWords({ basis, lookedAt: { events, of } }: WhyAnswer): string {
  if (basis === 'ledger') return `${formatCount(events)} events as counted on arrival`;
  if (basis === 'all') return `all ${formatCount(events)} events`;
  if (basis === 'tape') return `${formatCount(events)} events on the tape, for ${formatCount(of)} received`;
  const oneIn = Math.max(2, Math.round(of / Math.max(1, events)));
  const sampled = `${formatCount(events)} events sampled, 1 in ${formatCount(oneIn)}`;
  return basis === 'counted' ? `${sampled}, figures counted over all` : sampled;
}

/** What is still to come. */
function nextInWords({ basis }: WhyAnswer): string {
  return basis === 'ledger' ? 'comparing all fields …' : 'counting all events …';
}

function restInWords(rest: number): string {
  const share = `Remaining ${Math.round(rest * 100)} % of the change:`;
  return Math.abs(rest) < littleRest ? `${share} normal variation.` : `${share} no small set of values explains it.`;
}

/** A remainder below this fraction is normal variation. */
const littleRest = 0.06;

function Row(props: {
  readonly row: WhyRow;
  readonly answer: WhyAnswer;
  readonly most: number;
  readonly isChosen: boolean;
  readonly onChoose: () => void;
}) {
  const { row, answer, most, isChosen, onChoose } = props;
  const { before, since, also, without } = row;
  const width = (value: number | null): string => `${Math.max(0, ((value ?? 0) / most) * 100)}%`;
  return (
    <tr className={`border-b border-hair ${isChosen ? 'bg-land' : ''}`}>
      <td className="py-2 pr-3 pl-2">
        <button
          type="button"
          onClick={onChoose}
          aria-pressed={isChosen}
          className="line text-left font-semibold hover:underline"
        >
          {whereInWords(row)}
        </button>
        {also.length > 0 && (
          <p
            className="truncate text-[12px] text-second"
            title={also.map(({ field, value }) => `${field} = ${value}`).join(', ')}
          >
            nearly all have {also.map(({ field, value }) => `${field} = ${value}`).join(', ')}
          </p>
        )}
      </td>
      <td className="text-[12.5px]">
        <div className="flex items-center gap-3">
          <div aria-hidden="true" className="min-w-0 flex-1">
            <div className="h-1.5" style={{ width: width(before), background: 'var(--d2)' }} />
            <div className="mt-1 h-1.5" style={{ width: width(since), background: 'var(--d6)' }} />
          </div>
          <span className="w-[46%] shrink-0 text-second">
            {figureInWords(before, answer)} → {figureInWords(since, answer)}
          </span>
        </div>
      </td>
      <td className="text-right font-semibold">{shareInWords(row)}</td>
      <td className="text-right">{ratioInWords(row.ratio)}</td>
      <td className="pl-4 text-[12.5px] text-second">{withoutInWords(without, answer)}</td>
    </tr>
  );
}

/** The whole figure if a row's events are replaced by those from before. */
function withoutInWords(without: number, answer: WhyAnswer): string {
  const { before, since } = answer;
  if (before === null || since === null) return '–';
  const isBack = Math.abs(without - before) <= nearly * Math.abs(since - before);
  return isBack ? 'as before' : `${figureInWords(without, answer)} in all`;
}

/** Closer to the old figure than this fraction of the change counts as the old figure. */
const nearly = 0.12;

/** What else changed at about the same time. */
function Around({ answer: { around, began } }: { readonly answer: WhyAnswer }) {
  if (began === undefined) return null;
  return (
    <div className="mt-4 text-[12.5px]">
      <h2>What else changed around {dayAndMinute(began)}</h2>
      {around.length === 0 && <p className="mt-1 text-second">Nothing recorded within 30 minutes.</p>}
      <ul className="mt-1">
        {around.map(({ at, text, link }) => (
          <li key={`${at} ${text}`} className="flex gap-2 py-0.5">
            <b className="shrink-0 font-[680]" title={inOtherZone(at)}>
              {formatShown(at, 'HH:mm')}
            </b>
            <Link href={link} className="min-w-0 truncate hover:underline" title={text}>
              {text}
            </Link>
          </li>
        ))}
      </ul>
    </div>
  );
}
