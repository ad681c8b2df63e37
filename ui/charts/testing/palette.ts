import type { Palette } from '../chart.tsx';

/** Colours that are called what they are for, to see in tests which one was taken. */
export const palette: Palette = {
  ink: 'ink',
  second: 'second',
  hair: 'hair',
  paper: 'paper',
  sheet: 'sheet',
  sand: 'sand',
  caution: 'caution',
  danger: 'danger',
  mark: 'mark',
  series: ['s0', 's1', 's2', 's3', 's4', 's5', 's6', 's7', 's8', 's9'],
  depth: ['d0', 'd1', 'd2', 'd3', 'd4', 'd5'],
};
