/** The longest texts of a plan, in characters. */
export const longest = {
  title: 200,
  condition: 20_000,
  /** A sample of a test. */
  sample: 20_000,
  /** Why something is there. */
  reason: 500,
  /** A field's name. */
  field: 256,
  /** The name of a person, a team, a fleet, a table, or a time zone. */
  name: 64,
  /** A duration, a share, or an amount. */
  amount: 40,
} as const;
