/** A change in what a source sends. */
export interface DriftView {
  readonly id: number;
  readonly source: string;
  readonly kind: string;
  readonly text: string;
  /** A condition that shows it. */
  readonly shows: string;
  readonly since: number;
}
