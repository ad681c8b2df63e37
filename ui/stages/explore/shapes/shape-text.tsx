import type { ShapePiece } from '#core/shapes/pieces.ts';

const tints = 6;

/** The tint of a hole by its place among the holes of its shape. */
export function tintOf(hole: number): string {
  return `var(--hole-${(hole % tints) + 1})`;
}

/** A kind of line: its constant words, and tinted holes with their names. */
export function ShapeText({ pieces }: { readonly pieces: readonly ShapePiece[] }) {
  let at = 0;
  let hole = 0;
  return (
    <>
      {pieces.map((piece) => {
        const key = at++;
        if (piece.kind === 'text') return <span key={key}>{piece.text}</span>;
        const tint = tintOf(hole++);
        // A dash alone says that there was nothing to say.
        if (piece.text === '-' && piece.type === 'text') return <span key={key}>-</span>;
        return (
          <span key={key} className="rounded-[2px] px-0.5" style={{ background: tint }}>
            {piece.name}
          </span>
        );
      })}
    </>
  );
}
