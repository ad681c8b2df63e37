/** The time range of a chart, or a part of it (milliseconds). */
export interface ShownSpan {
  readonly from: number;
  readonly to: number;
}
