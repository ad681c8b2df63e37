/** Windows that metrics are shown over. */
export const metricWindows = [
  { value: '1d', title: '1 d', from: '-1d' },
  { value: '14d', title: '14 d', from: '-14d' },
  { value: '60d', title: '60 d', from: '-60d' },
  { value: '15mo', title: '15 mo', from: '-456d' },
] as const;
