/** The 97.5 % quantiles of Student's t distribution (W. S. Gosset, 1908) with 1 to 30 degrees of freedom. */
const quantiles = [
  12.706, 4.303, 3.182, 2.776, 2.571, 2.447, 2.365, 2.306, 2.262, 2.228, 2.201, 2.179, 2.16, 2.145, 2.131, 2.12, 2.11,
  2.101, 2.093, 2.086, 2.08, 2.074, 2.069, 2.064, 2.06, 2.056, 2.052, 2.048, 2.045, 2.042,
];

/** The half-width of a 95 % band in standard errors, for a number of degrees of freedom (at least 1). */
export function studentQuantile(degrees: number): number {
  return quantiles[Math.max(1, Math.floor(degrees)) - 1] ?? 1.96 + 2.46 / degrees;
}
