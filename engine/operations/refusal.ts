/** Why an operation is not done: what its caller can act on. It becomes an answer with that status (RFC 9457). */
export class Refusal extends Error {
  override readonly name = 'Refusal';

  constructor(
    readonly status: 400 | 404 | 409 | 413 | 429 | 503,
    /** What is wrong, in a few words; empty: what the operation says when it is not done. */
    readonly title: string,
    /** What was kept and what to do, in sentences. */
    detail: string,
    /** What helps beside, such as the problems of a plan. */
    readonly more: object = {},
  ) {
    super(detail);
  }
}
