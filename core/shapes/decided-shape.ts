import type { Shape } from './shape-index.ts';

/** What was decided of a shape: its skeleton as it is now, or that it is a part of another one. */
export interface DecidedShape extends Shape {
  /**
   * The shape that it was found to be a part of; absent for one that stands for itself. Where it is another form of that
   * one, its skeleton still finds lines; otherwise its skeleton is empty.
   */
  readonly into?: string | undefined;
}
