import { holeTypes } from './hole-types.ts';

/** A piece of a template that is being learnt. */
export type DraftPiece =
  | { readonly kind: 'literal'; readonly text: string }
  | { readonly kind: 'skip' }
  | {
      readonly kind: 'hole';
      readonly name: string;
      readonly type: string;
      readonly optional: boolean;
      /** Values that were marked. */
      readonly values: readonly string[];
      /** Whether someone chose the type. */
      readonly fixed: boolean;
    };

/** Constant text as a template writes it: braces doubled. */
export function literalText(text: string): string {
  return text.replace(/[{}]/g, (brace) => brace + brace);
}

/** The text of a template from its pieces. */
export function writeTemplate(pieces: readonly DraftPiece[]): string {
  return pieces
    .map((piece) => {
      if (piece.kind === 'literal') return literalText(piece.text);
      if (piece.kind === 'skip') return '{}';
      const type = piece.type === 'text' || !holeTypes.has(piece.type) ? '' : `:${piece.type}`;
      return `{${piece.name}${piece.optional ? '?' : ''}${type}}`;
    })
    .join('');
}
