import { useState } from 'react';
import { Button } from '../../../kit/button.tsx';

/** How marks underline, in their order; as many there may be. */
const underlines = ['decoration-solid', 'decoration-double', 'decoration-dotted', 'decoration-wavy'] as const;

/** Texts that are underlined where they stand, each in its own way. */
export function Marks(props: {
  readonly marks: readonly string[];
  readonly onChange: (marks: readonly string[]) => void;
}) {
  const { marks, onChange } = props;
  const [typed, setTyped] = useState('');
  const add = (): void => {
    const mark = typed.trim();
    if (mark !== '' && !marks.includes(mark)) onChange([...marks, mark]);
    setTyped('');
  };
  return (
    <div className="flex flex-wrap items-center gap-x-2 gap-y-1 text-[12.5px]">
      <span className="font-semibold text-second">Marks</span>
      {marks.map((mark, i) => (
        <span key={mark} className="line flex items-center">
          <span className={underlineOf(i)}>{mark}</span>
          <button
            type="button"
            aria-label={`Take out the mark ${mark}`}
            onClick={() => onChange(marks.filter((other) => other !== mark))}
            className="px-1.5 text-second hover:text-danger"
          >
            ×
          </button>
        </span>
      ))}
      {marks.length < underlines.length && (
        <form
          onSubmit={(event) => {
            event.preventDefault();
            add();
          }}
          className="flex items-center"
        >
          <input
            aria-label="A text to mark"
            placeholder="a text to mark"
            value={typed}
            onChange={(event) => setTyped(event.target.value)}
            className="line w-32 rounded-[5px] border border-hair bg-sheet px-2 py-0.5"
          />
          <Button type="submit" look="quiet" className="py-0! text-[12.5px]">
            Mark
          </Button>
        </form>
      )}
    </div>
  );
}

/** How the mark at a place underlines. */
function underlineOf(place: number): string {
  return `underline decoration-2 underline-offset-[3px] decoration-mark ${underlines[place] ?? ''}`;
}

/** A text with its marks. */
export function MarkedText({ text, marks }: { readonly text: string; readonly marks: readonly string[] }) {
  if (marks.length === 0) return text;
  const escaped = marks.map((mark) => mark.replace(/[.*+?^${}()|[\]\\]/g, '\\$&'));
  const pieces = text.split(new RegExp(`(${escaped.join('|')})`, 'gi'));
  return pieces.map((piece, i) => {
    const place = i % 2 === 1 ? marks.findIndex((mark) => mark.toLowerCase() === piece.toLowerCase()) : -1;
    const key = `${i} ${piece}`;
    return place < 0 ? (
      <span key={key}>{piece}</span>
    ) : (
      <mark key={key} className={`bg-transparent text-inherit ${underlineOf(place)}`}>
        {piece}
      </mark>
    );
  });
}
