/** The durations offered for postures and temporary overrides. */
export const switchSpans = [
  { value: '2m', title: '2 minutes' },
  { value: '1h', title: '1 hour' },
  { value: '4h', title: '4 hours' },
  { value: '12h', title: '12 hours' },
  { value: '1d', title: '1 day' },
  { value: '3d', title: '3 days' },
] as const;

/** One of {@link switchSpans}. */
export type SwitchSpan = (typeof switchSpans)[number]['value'];
