/** What of a plan is valid and can hardly be meant: where, what, and what may be meant instead. */
export interface PlanDoubt {
  readonly path: string;
  readonly message: string;
  readonly suggestion?: string;
}
