'use client';

import { X } from 'lucide-react';
import { useState } from 'react';
import { formatCount } from '#core/events/units.ts';
import { byTurns } from '#core/tape/by-turns.ts';
import type { Mark } from '#core/templates/learn.ts';
import { MarkBar } from '../../../editors/mark-bar.tsx';
import { selectedRange } from '../../../editors/selected-range.ts';
import { holeTint } from '../../../editors/template-editor.tsx';
import { Button } from '../../../kit/button.tsx';
import { Choice } from '../../../kit/choice.tsx';
import { Section } from '../../../kit/section.tsx';
import type { SampleAnswer, SampleLine } from './sample.ts';
import type { LineMarks, MarkingEvents } from './use-line-marks.ts';
import { useLineMarks } from './use-line-marks.ts';

/** Lines shown at most. */
const mostShown = 14;

interface SampleLinesProps extends MarkingEvents {
  readonly sample: SampleAnswer;
  readonly showFit: boolean;
  readonly followed: number;
  readonly onFollow: (place: number) => void;
  /** Says where a field of that name comes from already. */
  readonly knownField: (name: string) => string | undefined;
}

/**
 * Sample lines with the pieces that the holes take out of them; those that do not fit come first, grouped by why. Text
 * that is selected in a line can be made a field: the template then writes itself.
 */
export function SampleLines(props: SampleLinesProps) {
  const { sample, showFit } = props;
  const [shown, setShown] = useState<ShownLines>('all');
  const [reason, setReason] = useState('');
  const marking = useLineMarks(sample, props);
  const { marks } = marking;
  // A marked line stays on top whether it fits by now or not: the next piece of it is where the eye left it.
  const marked = [...marks.keys()].flatMap((place) => sample.lines.find((line) => line.place === place) ?? []);
  const others = linesOf(sample, shown, reason).filter((line) => !marks.has(line.place));
  return (
    <Section
      className="mt-4"
      title={showFit ? 'Sample from the tape · select text to create a field' : 'Sample from the tape'}
      aside={
        showFit && (
          <Choice
            label="Which lines"
            value={shown}
            onChange={setShown}
            options={[
              { value: 'all', title: 'All' },
              { value: 'misfits', title: `${formatCount(sample.entered - sample.fitted)} do not fit` },
              { value: 'fitting', title: `${formatCount(sample.fitted)} fit` },
            ]}
          />
        )
      }
    >
      {showFit && sample.reasons.length > 0 && (
        <Reasons
          reasons={sample.reasons}
          chosen={reason}
          onChoose={(text) => {
            setShown('misfits');
            setReason(reason === text ? '' : text);
          }}
        />
      )}
      {marks.size > 0 && (
        <p className="mb-1 flex items-center gap-3 text-[12.5px] text-mark">
          {markedInWords([...marks.values()])}
          <Button look="quiet" className="px-1!" onClick={marking.startOver}>
            Start over
          </Button>
        </p>
      )}
      <ol>
        {[...marked, ...others.slice(0, mostShown)].map((line) => (
          <Line key={line.place} {...props} line={line} marking={marking} />
        ))}
      </ol>
    </Section>
  );
}

type ShownLines = 'all' | 'misfits' | 'fitting';

/** The lines that are to be shown; where all are, some of every reason come before those that fit. */
function linesOf({ lines }: SampleAnswer, shown: ShownLines, reason: string): readonly SampleLine[] {
  const misfits = lines.filter((line) => !line.fits);
  const fitting = lines.filter((line) => line.fits);
  if (shown === 'misfits') return misfits.filter((line) => reason === '' || line.reason === reason);
  if (shown === 'fitting' || misfits.length === 0) return fitting;
  return [...byTurns(misfits, ({ reason: why = '' }) => why).slice(0, mostShown / 2), ...fitting];
}

/** Why lines do not fit; a click shows those alone. */
function Reasons(props: {
  readonly reasons: SampleAnswer['reasons'];
  readonly chosen: string;
  readonly onChoose: (reason: string) => void;
}) {
  const { reasons, chosen, onChoose } = props;
  return (
    <ul className="mb-1 flex flex-wrap gap-x-4 text-[12.5px]">
      {reasons.slice(0, 5).map(([text, count]) => (
        <li key={text}>
          <button
            type="button"
            onClick={() => onChoose(text)}
            className={`hover:underline ${chosen === text ? 'font-semibold text-mark' : 'text-second'}`}
          >
            <span aria-hidden="true" className="text-danger">
              <X size={13} aria-hidden="true" className="inline shrink-0" />
            </span>{' '}
            {count > 0 ? formatCount(count) : 'other lines:'} {text}
          </button>
        </li>
      ))}
    </ul>
  );
}

/** A line, whether it fits, and the form for the text that is selected in it. */
function Line(props: SampleLinesProps & { readonly line: SampleLine; readonly marking: LineMarks }) {
  const { line, marking, showFit } = props;
  const { selected } = marking;
  return (
    <li
      className={`border-t border-hair ${line.place === props.followed ? 'bg-sheet shadow-[inset_2px_0_0_var(--mark)]' : ''}`}
    >
      <div className="flex gap-2.5 px-1.5 py-[3px]">
        {showFit && <FitMark fits={line.fits} reason={line.reason} />}
        <button
          type="button"
          aria-label="Trace this line through the steps"
          onClick={() => props.onFollow(line.place)}
          className="h-5 shrink-0 px-0.5 text-second hover:text-mark"
        >
          →
        </button>
        <LineText
          line={line}
          marks={marking.marks.get(line.place) ?? []}
          onSelect={(start, end) => showFit && marking.select({ place: line.place, start, end })}
        />
      </div>
      {selected?.place === line.place && (
        <MarkBar
          value={line.text.slice(selected.start, selected.end)}
          knownField={props.knownField}
          onMark={marking.mark}
          onLeave={() => marking.select(undefined)}
        />
      )}
    </li>
  );
}

/** Says what is marked and what the next mark does. */
function markedInWords(marks: readonly (readonly Mark[])[]): string {
  const [first = [], ...others] = marks;
  const pieces = (count: number): string => (count === 1 ? '1 piece is' : `${count} pieces are`);
  if (others.length === 0)
    return `${pieces(first.length)} marked on a line. Mark the same fields on a second line, and what differs between them is skipped.`;
  const most = Math.max(...marks.map((list) => list.length));
  const open = marks.filter((list) => list.length < most);
  if (open.length === 0)
    return `${pieces(most)} marked on each of ${marks.length} lines. The template takes what these lines have in common.`;
  return `${pieces(most)} marked on a line, ${open[0]?.length} on another: it counts once the same fields are marked on it.`;
}

function FitMark({ fits, reason }: { readonly fits: boolean; readonly reason: string | undefined }) {
  return fits ? (
    <span className="text-well">
      ○<span className="sr-only">fits</span>
    </span>
  ) : (
    <span className="text-danger" title={reason}>
      <X size={13} aria-hidden="true" className="inline" />
      <span className="sr-only">does not match</span>
    </span>
  );
}

/** A line's text; what is selected in it is known by the offsets of its characters. */
function LineText(props: {
  readonly line: SampleLine;
  readonly marks: readonly Mark[];
  readonly onSelect: (start: number, end: number) => void;
}) {
  const select = (element: HTMLElement): void => {
    const range = selectedRange(element);
    if (range) props.onSelect(range.start, range.end);
  };
  const pieces = props.marks.length > 0 ? markedPieces(props.line.text, props.marks) : props.line.pieces;
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: text is selected in it, with mouse or keyboard; the button beside it acts
    <span
      className="line min-w-0 flex-1 cursor-text select-text whitespace-pre-wrap break-all"
      data-line={props.line.place}
      onMouseUp={(event) => select(event.currentTarget)}
      onKeyUp={(event) => select(event.currentTarget)}
    >
      {pieces.map((piece, index) => {
        // Pieces follow one another; their place is what tells them apart.
        const key = `${index} ${piece.text}`;
        if (piece.hole === undefined) {
          return (
            <span key={key} className={piece.fault ? 'underline decoration-danger decoration-wavy' : ''}>
              {piece.text}
            </span>
          );
        }
        return (
          <span key={key} title={piece.name} className="rounded-[3px]" style={{ background: holeTint(piece.hole) }}>
            {piece.text}
          </span>
        );
      })}
    </span>
  );
}

function markedPieces(text: string, marks: readonly Mark[]): SampleLine['pieces'] {
  let at = 0;
  const pieces = marks.flatMap((mark, hole) => {
    const own = [
      { text: text.slice(at, mark.start) },
      { text: text.slice(mark.start, mark.end), hole, name: mark.name },
    ];
    at = mark.end;
    return own;
  });
  return [...pieces, { text: text.slice(at) }].filter((piece) => piece.text !== '');
}
