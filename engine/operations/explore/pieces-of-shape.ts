import { piecesOf, type ShapePiece } from '#core/shapes/pieces.ts';
import type { OperationServices } from '../services.ts';

/** The pieces of a shape by its id, also one that was merged; none where nobody knows it. */
export function piecesOfShape({ shapes }: Pick<OperationServices, 'shapes'>, id: string): readonly ShapePiece[] {
  const facts = shapes.get(shapes.known.current(id));
  return facts ? piecesOf(facts.skeleton, facts.sample) : [];
}
